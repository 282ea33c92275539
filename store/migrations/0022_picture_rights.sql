-- +goose Up
-- Where a picture comes from, and by what right it is shown.
ALTER TABLE pictures
    ADD COLUMN comes_from text NOT NULL DEFAULT '',
    ADD COLUMN permission text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE pictures DROP COLUMN comes_from, DROP COLUMN permission;
