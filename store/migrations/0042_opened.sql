-- +goose Up
-- Pictures that tell when a letter is looked at: off, unless the owner switches them on.
ALTER TABLE store ADD COLUMN count_opens boolean NOT NULL DEFAULT false;
ALTER TABLE postings ADD COLUMN opened_at timestamptz;

-- +goose Down
ALTER TABLE postings DROP COLUMN opened_at;
ALTER TABLE store DROP COLUMN count_opens;
