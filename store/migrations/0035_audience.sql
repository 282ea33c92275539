-- +goose Up
-- People, by their address; the lists they are on, and what they agreed to for each; the
-- follow-ups that lists begin; and one row for each letter to each of them.
CREATE TABLE lists (
    id         text PRIMARY KEY,
    name       text NOT NULL UNIQUE CHECK (name <> '' AND char_length(name) <= 80),
    from_name  text NOT NULL DEFAULT '',            -- who writes; empty: the store
    reply_to   text NOT NULL DEFAULT '',            -- where answers go; empty: the store's address
    why        text NOT NULL CHECK (why <> '' AND char_length(why) <= 240),
    confirmed  boolean NOT NULL DEFAULT true,       -- one is on it only after a press that a mail asks for
    gives      text REFERENCES handouts ON DELETE SET NULL,
    tells      text NOT NULL DEFAULT 'never' CHECK (tells IN ('never', 'each', 'daily')),
    created_at timestamptz NOT NULL
);
CREATE INDEX lists_gives ON lists (gives);

CREATE TABLE contacts (
    id           text PRIMARY KEY,
    email        text NOT NULL CHECK (email <> ''),
    name         text NOT NULL DEFAULT '',
    zone         text NOT NULL DEFAULT '',          -- IANA name, as their browser said; empty: not known
    first_at     timestamptz NOT NULL,
    paused_until timestamptz
);
CREATE UNIQUE INDEX contacts_email ON contacts (lower(email));
CREATE INDEX contacts_first ON contacts (first_at DESC, id);

CREATE TABLE members (
    list_id    text NOT NULL REFERENCES lists ON DELETE CASCADE,
    contact_id text NOT NULL REFERENCES contacts ON DELETE CASCADE,
    state      text NOT NULL CHECK (state IN ('asked', 'on', 'off')),
    consent    text NOT NULL,                       -- the words they agreed to, last
    page_id    text REFERENCES pages ON DELETE SET NULL,
    edition_id text REFERENCES editions,            -- with which the form was on the page
    source     text NOT NULL DEFAULT '',            -- by which link they came
    asked_at   timestamptz NOT NULL,
    on_at      timestamptz,
    off_at     timestamptz,
    told_at    timestamptz,                         -- when the store was told of them
    PRIMARY KEY (list_id, contact_id),
    CHECK ((state = 'on') <= (on_at IS NOT NULL)),
    CHECK ((state = 'off') <= (off_at IS NOT NULL))
);
CREATE INDEX members_contact ON members (contact_id);
CREATE INDEX members_on ON members (list_id, on_at DESC) WHERE state = 'on';
CREATE INDEX members_page ON members (page_id);
CREATE INDEX members_edition ON members (edition_id);

-- Addresses that must never be written to again, as HMACs from which none can be read.
CREATE TABLE hushed (
    hush text PRIMARY KEY,
    why  text NOT NULL CHECK (why IN ('all_off', 'erased')),
    at   timestamptz NOT NULL
);

CREATE TABLE followups (
    id          text PRIMARY KEY,
    campaign_id text NOT NULL REFERENCES campaigns,
    name        text NOT NULL CHECK (name <> '' AND char_length(name) <= 80),
    line        jsonb NOT NULL,                     -- package followup
    list_id     text REFERENCES lists ON DELETE CASCADE, -- that begins it
    deadline_id text REFERENCES deadlines ON DELETE SET NULL, -- after which nothing of it is sent
    begins      boolean NOT NULL DEFAULT false,     -- people begin it now
    revision    bigint NOT NULL DEFAULT 0,
    created_at  timestamptz NOT NULL
);
CREATE INDEX followups_campaign ON followups (campaign_id);
CREATE INDEX followups_list ON followups (list_id);
CREATE INDEX followups_deadline ON followups (deadline_id);

CREATE TABLE followings (
    followup_id text NOT NULL REFERENCES followups ON DELETE CASCADE,
    contact_id  text NOT NULL REFERENCES contacts ON DELETE CASCADE,
    began_at    timestamptz NOT NULL,
    PRIMARY KEY (followup_id, contact_id)
);
CREATE INDEX followings_contact ON followings (contact_id);

CREATE TABLE postings (
    id          text PRIMARY KEY,                   -- becomes the Message-ID
    contact_id  text NOT NULL REFERENCES contacts ON DELETE CASCADE,
    kind        text NOT NULL CHECK (kind IN ('confirm', 'gift', 'letter')),
    list_id     text REFERENCES lists ON DELETE CASCADE,
    letter_id   text REFERENCES pages ON DELETE CASCADE,
    followup_id text REFERENCES followups ON DELETE CASCADE,
    due_at      timestamptz NOT NULL,
    taken_until timestamptz,                        -- somebody is sending it until then
    tries       integer NOT NULL DEFAULT 0,
    subject     text NOT NULL DEFAULT '',           -- as it was sent
    sent_at     timestamptz,
    dropped     text NOT NULL DEFAULT '',           -- why it is never sent
    clicked_at  timestamptz,                        -- first
    CHECK ((kind = 'letter') = (letter_id IS NOT NULL))
);
-- Nobody gets a letter of a follow-up twice.
CREATE UNIQUE INDEX postings_once ON postings (followup_id, contact_id, letter_id) WHERE followup_id IS NOT NULL;
CREATE INDEX postings_due ON postings (due_at) WHERE sent_at IS NULL AND dropped = '';
CREATE INDEX postings_contact ON postings (contact_id, due_at);
CREATE INDEX postings_letter ON postings (letter_id) WHERE letter_id IS NOT NULL;
CREATE INDEX postings_list ON postings (list_id);

-- By which letter an order came.
ALTER TABLE orders ADD COLUMN posting_id text REFERENCES postings ON DELETE SET NULL;
CREATE INDEX orders_posting ON orders (posting_id) WHERE posting_id IS NOT NULL;

-- +goose Down
ALTER TABLE orders DROP COLUMN posting_id;
DROP TABLE postings, followings, followups, hushed, members, contacts, lists;
