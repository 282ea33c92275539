-- +goose Up
-- What mail servers said of letters that they could not deliver, and that their readers
-- complained of; the keys by which letters are signed.
CREATE TABLE mail_keys (
    domain   text PRIMARY KEY,
    selector text NOT NULL,
    private  bytea NOT NULL,                        -- PKCS #8
    made_at  timestamptz NOT NULL
);

CREATE TABLE returns (
    id         text PRIMARY KEY,
    posting_id text REFERENCES postings ON DELETE CASCADE,
    mail_id    text REFERENCES mails ON DELETE CASCADE,
    kind       text NOT NULL CHECK (kind IN ('for_good', 'for_now', 'late', 'complaint')),
    attempt    integer NOT NULL DEFAULT 0,          -- at which the letter came back
    status     text NOT NULL DEFAULT '',
    says       text NOT NULL DEFAULT '',
    at         timestamptz NOT NULL,
    CHECK ((posting_id IS NULL) <> (mail_id IS NULL))
);
-- A report that comes twice is one.
CREATE UNIQUE INDEX returns_posting ON returns (posting_id, kind, attempt) WHERE posting_id IS NOT NULL;
CREATE UNIQUE INDEX returns_mail ON returns (mail_id, kind) WHERE mail_id IS NOT NULL;
CREATE INDEX returns_at ON returns (at DESC);

ALTER TABLE hushed DROP CONSTRAINT hushed_why_check, ADD CONSTRAINT hushed_why_check CHECK (why IN ('all_off', 'erased', 'gone', 'complained'));
-- An order's mail that no server takes is not tried again.
ALTER TABLE mails ADD COLUMN refused text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE mails DROP COLUMN refused;
DELETE FROM hushed WHERE why IN ('gone', 'complained');
ALTER TABLE hushed DROP CONSTRAINT hushed_why_check, ADD CONSTRAINT hushed_why_check CHECK (why IN ('all_off', 'erased'));
DROP TABLE returns, mail_keys;
