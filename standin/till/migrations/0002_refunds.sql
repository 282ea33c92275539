-- +goose Up
CREATE TABLE till.refunds (
    id           text PRIMARY KEY,
    key          text NOT NULL UNIQUE,
    charge_id    text NOT NULL REFERENCES till.charges,
    amount_minor bigint NOT NULL CHECK (amount_minor > 0),
    state        text NOT NULL CHECK (state IN ('refunded', 'refused')),
    message      text NOT NULL DEFAULT '',
    created_at   timestamptz NOT NULL
);
CREATE INDEX refunds_charge ON till.refunds (charge_id);

-- +goose Down
DROP TABLE till.refunds;
