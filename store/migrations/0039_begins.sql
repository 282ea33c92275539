-- +goose Up
-- Follow-ups begin with more than joining: from when on one listens for it.
ALTER TABLE followups ADD COLUMN since timestamptz;
UPDATE followups SET since = created_at WHERE begins;
ALTER TABLE followups ADD CHECK (begins <= (since IS NOT NULL));

-- Who agreed in a checkout to the letters of a list, until they are on it: at once where
-- they ordered, a while later where they left it unfinished.
CREATE TABLE agreed (
    visitor    text NOT NULL,
    list_id    text NOT NULL REFERENCES lists ON DELETE CASCADE,
    email      text NOT NULL CHECK (email <> ''),
    name       text NOT NULL DEFAULT '',
    zone       text NOT NULL DEFAULT '',
    consent    text NOT NULL,
    page_id    text REFERENCES pages ON DELETE SET NULL,
    edition_id text REFERENCES editions,
    source     text NOT NULL DEFAULT '',
    at         timestamptz NOT NULL,
    due_at     timestamptz NOT NULL,
    PRIMARY KEY (visitor, list_id)
);
CREATE INDEX agreed_due ON agreed (due_at);
CREATE INDEX agreed_list ON agreed (list_id);
CREATE INDEX agreed_page ON agreed (page_id);
CREATE INDEX agreed_edition ON agreed (edition_id);

-- What begins follow-ups is looked for by its moment.
CREATE INDEX orders_paid_at ON orders (paid_at) WHERE state = 'paid';
CREATE INDEX answers_at ON answers (at) WHERE outcome = 'declined';
CREATE INDEX postings_clicked ON postings (clicked_at) WHERE clicked_at IS NOT NULL;
CREATE INDEX leads_slot ON leads (slot_at) WHERE slot_at IS NOT NULL;

-- +goose Down
DROP INDEX orders_paid_at, answers_at, postings_clicked, leads_slot;
DROP TABLE agreed;
ALTER TABLE followups DROP COLUMN since;
