-- +goose Up
CREATE TABLE till.cards (
    token      text PRIMARY KEY,
    last_four  text NOT NULL,
    manner     text NOT NULL,
    kept       boolean NOT NULL,
    used       boolean NOT NULL DEFAULT false,
    created_at timestamptz NOT NULL
);

CREATE TABLE till.charges (
    id           text PRIMARY KEY,
    key          text NOT NULL UNIQUE,
    fingerprint  text NOT NULL,
    state        text NOT NULL CHECK (state IN ('charged', 'refused', 'confirming', 'cancelled')),
    amount_minor bigint NOT NULL,
    currency     text NOT NULL,
    reference    text NOT NULL,
    last_four    text NOT NULL,
    message      text NOT NULL DEFAULT '',
    kept_token   text NOT NULL DEFAULT '',
    return_url   text NOT NULL DEFAULT '',
    created_at   timestamptz NOT NULL
);
CREATE INDEX charges_newest ON till.charges (created_at DESC);

-- Webhooks wait here until the shop has taken them.
CREATE TABLE till.outbox (
    id         text PRIMARY KEY,
    body       text NOT NULL,
    tries      integer NOT NULL DEFAULT 0,
    next_at    timestamptz NOT NULL,
    done       boolean NOT NULL DEFAULT false
);
CREATE INDEX outbox_due ON till.outbox (next_at) WHERE NOT done;

-- +goose Down
DROP TABLE till.outbox, till.charges, till.cards;
