-- +goose Up
-- What goes by mail is no page: letters to lists, and the mails of orders in the owner's words.
ALTER TABLE pages ADD COLUMN by_mail boolean GENERATED ALWAYS AS (purpose = 'letter' OR purpose LIKE 'mail\_%') STORED;
CREATE INDEX pages_mails ON pages (purpose) WHERE by_mail AND aside_at IS NULL;

-- +goose Down
ALTER TABLE pages DROP COLUMN by_mail;
