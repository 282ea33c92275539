-- +goose Up
-- How a page is framed: bare, with the store's header, or with header and footer.
ALTER TABLE pages
    ADD COLUMN layout     text NOT NULL DEFAULT 'bare' CHECK (layout IN ('bare', 'header', 'full')),
    ADD COLUMN template   text NOT NULL DEFAULT '',
    ADD COLUMN created_at timestamptz NOT NULL DEFAULT now();

ALTER TABLE store ADD COLUMN phone text NOT NULL DEFAULT '';

-- Pages that were kept to begin others from.
CREATE TABLE templates (
    id         text PRIMARY KEY,
    name       text NOT NULL CHECK (name <> ''),
    purpose    text NOT NULL,
    layout     text NOT NULL CHECK (layout IN ('bare', 'header', 'full')),
    manuscript jsonb NOT NULL,
    kept_at    timestamptz NOT NULL
);

-- Addresses that pages had before. What is live there now goes first.
CREATE TABLE former_addresses (
    address text PRIMARY KEY,
    page_id text NOT NULL REFERENCES pages ON DELETE CASCADE,
    left_at timestamptz NOT NULL
);
CREATE INDEX former_addresses_page ON former_addresses (page_id);

-- What visitors sent by forms, with its source.
CREATE TABLE leads (
    id          text PRIMARY KEY,
    kind        text NOT NULL CHECK (kind IN ('opt_in', 'newsletter', 'message')),
    email       text NOT NULL CHECK (email <> ''),
    name        text NOT NULL DEFAULT '',
    message     text NOT NULL DEFAULT '',
    consent     text NOT NULL DEFAULT '',   -- the words they agreed to
    campaign_id text REFERENCES campaigns ON DELETE SET NULL,
    page_id     text REFERENCES pages ON DELETE SET NULL,
    piece_id    text NOT NULL,
    link        text NOT NULL DEFAULT '',   -- by which they came
    visitor     text NOT NULL DEFAULT '',
    at          timestamptz NOT NULL,
    sent_at     timestamptz                 -- a message: when it went to the store
);
CREATE INDEX leads_at ON leads (at DESC);
CREATE INDEX leads_page ON leads (page_id);
CREATE INDEX leads_campaign ON leads (campaign_id);
-- Asking twice by the same form is one lead; messages are each their own.
CREATE UNIQUE INDEX leads_once ON leads (lower(email), page_id, piece_id) WHERE kind <> 'message';

-- +goose Down
DROP TABLE leads, former_addresses, templates;
ALTER TABLE store DROP COLUMN phone;
ALTER TABLE pages DROP COLUMN created_at, DROP COLUMN template, DROP COLUMN layout;
