-- +goose Up
-- What is not sold any more and may come back: it stands on no shelf and in no shop, and
-- what was sold of it stays as it was.
ALTER TABLE variants ADD COLUMN archived_at timestamptz;
CREATE INDEX variants_archived ON variants (archived_at) WHERE archived_at IS NOT NULL;

-- +goose Down
ALTER TABLE variants DROP COLUMN archived_at;
