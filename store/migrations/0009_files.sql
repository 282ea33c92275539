-- +goose Up
-- Files that pages hand out: anybody who has the link may take them.
CREATE TABLE handouts (
    id       text PRIMARY KEY,
    name     text NOT NULL CHECK (name <> ''),
    mime     text NOT NULL CHECK (mime IN ('application/pdf', 'application/zip', 'text/plain')),
    hash     text NOT NULL UNIQUE,
    size     integer NOT NULL CHECK (size > 0),
    bytes    bytea NOT NULL,
    added_at timestamptz NOT NULL
);
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON handouts FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- +goose Down
DROP TABLE handouts;
