-- +goose Up
-- What a checkout asked besides who buys and where it goes, and the address of whoever
-- pays where that is another: [{"name": "note", "asks": "Note to the store", "says": "…"}].
ALTER TABLE orders ADD COLUMN said jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(said) = 'array'),
    ADD COLUMN payer jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(payer) = 'object');

-- Checkouts that were begun and are not paid for: what was typed in them, kept for
-- whoever comes back. One of a visitor and a page.
CREATE TABLE unfinished (
    visitor     text NOT NULL,
    page_id     text NOT NULL REFERENCES pages ON DELETE CASCADE,
    step_id     text NOT NULL DEFAULT '',
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    email       text NOT NULL,
    name        text NOT NULL DEFAULT '',
    consent     text NOT NULL DEFAULT '', -- the words that they agreed to
    typed       jsonb NOT NULL CHECK (jsonb_typeof(typed) = 'object'),
    part        integer NOT NULL CHECK (part BETWEEN 1 AND 3),
    begun_at    timestamptz NOT NULL,
    at          timestamptz NOT NULL,
    PRIMARY KEY (visitor, page_id)
);
CREATE INDEX unfinished_at ON unfinished (at);
CREATE INDEX unfinished_page ON unfinished (page_id);
CREATE INDEX unfinished_campaign ON unfinished (campaign_id);

-- +goose Down
DROP TABLE unfinished;
ALTER TABLE orders DROP COLUMN said, DROP COLUMN payer;
