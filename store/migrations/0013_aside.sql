-- +goose Up
-- A page that was set aside goes out no more, and can be brought back. Its
-- address then leads to another, where one is named.
ALTER TABLE pages
    ADD COLUMN aside_at  timestamptz,
    ADD COLUMN aside_for text REFERENCES pages ON DELETE SET NULL CHECK (aside_for <> id);
CREATE INDEX pages_aside_for ON pages (aside_for) WHERE aside_for IS NOT NULL;

-- +goose Down
ALTER TABLE pages DROP COLUMN aside_for, DROP COLUMN aside_at;
