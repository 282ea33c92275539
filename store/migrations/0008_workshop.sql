-- +goose Up
-- Code that the owner brings along for every page.
ALTER TABLE store ADD COLUMN own jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(own) = 'array');
CREATE TRIGGER tell_own AFTER UPDATE OF own ON store FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- A picture keeps the file as it came (source is that file's hash) beside what
-- is cut out of it, in thousandths of its width and height; hash names what is
-- shown. The focus stays in view where a page cuts the picture, in percent.
ALTER TABLE pictures
    ADD COLUMN source  text NOT NULL DEFAULT '',
    ADD COLUMN crop_x  smallint NOT NULL DEFAULT 0 CHECK (crop_x BETWEEN 0 AND 999),
    ADD COLUMN crop_y  smallint NOT NULL DEFAULT 0 CHECK (crop_y BETWEEN 0 AND 999),
    ADD COLUMN crop_w  smallint NOT NULL DEFAULT 1000 CHECK (crop_w BETWEEN 1 AND 1000),
    ADD COLUMN crop_h  smallint NOT NULL DEFAULT 1000 CHECK (crop_h BETWEEN 1 AND 1000),
    ADD COLUMN focus_x smallint NOT NULL DEFAULT 50 CHECK (focus_x BETWEEN 0 AND 100),
    ADD COLUMN focus_y smallint NOT NULL DEFAULT 50 CHECK (focus_y BETWEEN 0 AND 100),
    ADD CHECK (crop_x + crop_w <= 1000 AND crop_y + crop_h <= 1000);
UPDATE pictures SET source = hash;
CREATE INDEX pictures_source ON pictures (source);

-- Each width in the format that every browser reads, and in a modern one.
ALTER TABLE picture_sizes DROP CONSTRAINT picture_sizes_pkey, ADD PRIMARY KEY (picture_id, width, mime);

-- Videos of the store's shelf. They are stored as they are, so that a part can
-- be read without the rest.
CREATE TABLE videos (
    id       text PRIMARY KEY,
    name     text NOT NULL CHECK (name <> ''),
    mime     text NOT NULL CHECK (mime IN ('video/mp4', 'video/webm')),
    hash     text NOT NULL UNIQUE,
    size     integer NOT NULL CHECK (size > 0),
    bytes    bytea NOT NULL,
    added_at timestamptz NOT NULL
);
ALTER TABLE videos ALTER COLUMN bytes SET STORAGE EXTERNAL;
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON videos FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- Who took an appointment is a lead too; its slot is kept by the appointment book.
ALTER TABLE leads DROP CONSTRAINT leads_kind_check, ADD CHECK (kind IN ('opt_in', 'newsletter', 'message', 'appointment'));
ALTER TABLE leads ADD COLUMN slot_at timestamptz, ADD COLUMN slot_minutes smallint CHECK (slot_minutes > 0);
DROP INDEX leads_once;
CREATE UNIQUE INDEX leads_once ON leads (lower(email), page_id, piece_id) WHERE kind IN ('opt_in', 'newsletter');

-- +goose Down
DELETE FROM leads WHERE kind = 'appointment';
DROP INDEX leads_once;
CREATE UNIQUE INDEX leads_once ON leads (lower(email), page_id, piece_id) WHERE kind <> 'message';
ALTER TABLE leads DROP COLUMN slot_minutes, DROP COLUMN slot_at;
ALTER TABLE leads DROP CONSTRAINT leads_kind_check, ADD CHECK (kind IN ('opt_in', 'newsletter', 'message'));
DROP TABLE videos;
DELETE FROM picture_sizes WHERE mime = 'image/webp';
ALTER TABLE picture_sizes DROP CONSTRAINT picture_sizes_pkey, ADD PRIMARY KEY (picture_id, width);
ALTER TABLE pictures DROP COLUMN source, DROP COLUMN crop_x, DROP COLUMN crop_y, DROP COLUMN crop_w, DROP COLUMN crop_h, DROP COLUMN focus_x, DROP COLUMN focus_y;
DROP TRIGGER tell_own ON store;
ALTER TABLE store DROP COLUMN own;
