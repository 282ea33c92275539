-- +goose Up
-- What will happen to a campaign at a moment: an edition goes live, or all of
-- its pages are taken down.
CREATE TABLE planned (
    id           text PRIMARY KEY,
    campaign_id  text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    at           timestamptz NOT NULL,
    edition_id   text REFERENCES editions,                    -- null: its pages are taken down
    successor_id text REFERENCES pages ON DELETE SET NULL,    -- to which they lead from then on
    planned_by   text NOT NULL,
    done_at      timestamptz,
    refused      text NOT NULL DEFAULT '',                    -- why it could not be carried out
    CHECK (edition_id IS NULL OR successor_id IS NULL)
);
CREATE INDEX planned_due ON planned (at) WHERE done_at IS NULL;
CREATE INDEX planned_campaign ON planned (campaign_id);
CREATE INDEX planned_edition ON planned (edition_id);
CREATE INDEX planned_successor ON planned (successor_id);
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON planned FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- The page on which the shop opens; none: that of the campaign that went live last.
ALTER TABLE store ADD COLUMN home_page_id text REFERENCES pages ON DELETE SET NULL;
CREATE INDEX store_home ON store (home_page_id);
CREATE TRIGGER tell_home AFTER UPDATE OF home_page_id ON store FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- +goose Down
DROP TRIGGER tell_home ON store;
ALTER TABLE store DROP COLUMN home_page_id;
DROP TABLE planned;
