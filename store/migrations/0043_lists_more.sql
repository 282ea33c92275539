-- +goose Up
-- A list may hand out a code of their own, and lead on once somebody is on it.
ALTER TABLE lists ADD COLUMN code_offer text REFERENCES offers ON DELETE SET NULL,
    ADD COLUMN after_id text REFERENCES pages ON DELETE SET NULL;
CREATE INDEX lists_code_offer ON lists (code_offer);
CREATE INDEX lists_after ON lists (after_id);

-- What the store notes of people, and what it has to do for them.
CREATE TABLE notes (
    id         text PRIMARY KEY,
    contact_id text NOT NULL REFERENCES contacts ON DELETE CASCADE,
    says       text NOT NULL CHECK (says <> '' AND char_length(says) <= 2000),
    due_on     date,                                -- a task, until when; none: a note
    done_at    timestamptz,
    by         text NOT NULL,
    at         timestamptz NOT NULL,
    CHECK (done_at IS NULL OR due_on IS NOT NULL)
);
CREATE INDEX notes_contact ON notes (contact_id, at);
CREATE INDEX notes_due ON notes (due_on) WHERE done_at IS NULL AND due_on IS NOT NULL;

-- +goose Down
DROP TABLE notes;
ALTER TABLE lists DROP COLUMN code_offer, DROP COLUMN after_id;
