-- +goose Up
-- What a picture's pixels are, part by part, so that words are judged by what
-- lies under them; NULL: only the whole is known.
ALTER TABLE pictures ADD COLUMN patches bytea CHECK (patches IS NULL OR octet_length(patches) = 1152);

-- +goose Down
ALTER TABLE pictures DROP COLUMN patches;
