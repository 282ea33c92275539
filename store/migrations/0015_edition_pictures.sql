-- +goose Up
-- What each edition showed under a picture's ID: an edition cannot be changed, so
-- a picture that is replaced or cut later shows there as it did. Editions made
-- before this have what the pictures show now.
CREATE TABLE edition_pictures (
    edition_id text NOT NULL REFERENCES editions ON DELETE CASCADE,
    picture_id text NOT NULL,
    hash       text NOT NULL,
    PRIMARY KEY (edition_id, picture_id)
);
CREATE INDEX edition_pictures_hash ON edition_pictures (hash);
-- +goose StatementBegin
CREATE FUNCTION note_pictures() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO edition_pictures SELECT NEW.id, p.id, p.hash FROM pictures p WHERE strpos(NEW.content::text, '"' || p.id || '"') > 0;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER note_pictures AFTER INSERT ON editions FOR EACH ROW EXECUTE FUNCTION note_pictures();
INSERT INTO edition_pictures SELECT e.id, p.id, p.hash FROM editions e JOIN pictures p ON strpos(e.content::text, '"' || p.id || '"') > 0;

-- +goose Down
DROP TRIGGER note_pictures ON editions;
DROP FUNCTION note_pictures();
DROP TABLE edition_pictures;
