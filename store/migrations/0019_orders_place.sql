-- +goose Up
-- What an owner does with an order once it is paid.
ALTER TABLE orders
    ADD COLUMN handling       text CHECK (handling IN ('to_pack', 'sent', 'done')),
    ADD COLUMN refunded_minor bigint NOT NULL DEFAULT 0 CHECK (refunded_minor BETWEEN 0 AND total_minor),
    ADD COLUMN told_at        timestamptz, -- when the owner was sent a mail of it
    ADD CHECK (handling IS NULL OR state = 'paid');
UPDATE orders SET handling = 'to_pack' WHERE state = 'paid';
CREATE INDEX orders_newest ON orders ((coalesce(paid_at, created_at)) DESC, id) WHERE state IN ('paid', 'paying');
CREATE INDEX orders_to_pack ON orders (paid_at) WHERE handling = 'to_pack';
CREATE INDEX orders_email ON orders (lower(email)) WHERE state = 'paid';

-- Whether tax is in the prices or on them, and all tax of a payment, that on its
-- delivery included.
ALTER TABLE payments
    ADD COLUMN tax_included   boolean NOT NULL DEFAULT true,
    ADD COLUMN tax_minor      bigint NOT NULL DEFAULT 0 CHECK (tax_minor >= 0),
    ADD COLUMN refunded_minor bigint NOT NULL DEFAULT 0 CHECK (refunded_minor BETWEEN 0 AND amount_minor);

CREATE TABLE parcels (
    id       text PRIMARY KEY,
    order_id text NOT NULL REFERENCES orders ON DELETE CASCADE,
    carrier  text NOT NULL DEFAULT '',
    number   text NOT NULL DEFAULT '',
    sent_at  timestamptz NOT NULL,
    sent_by  text NOT NULL
);
CREATE INDEX parcels_order ON parcels (order_id);

-- What somebody wrote or did by hand.
CREATE TABLE order_notes (
    id       text PRIMARY KEY,
    order_id text NOT NULL REFERENCES orders ON DELETE CASCADE,
    kind     text NOT NULL CHECK (kind IN ('note', 'move')),
    at       timestamptz NOT NULL,
    by       text NOT NULL,
    text     text NOT NULL CHECK (text <> '')
);
CREATE INDEX order_notes_order ON order_notes (order_id);

-- A refund is decided once, and asked of the till for each payment it touches. What
-- was decided is stored before the till is asked, with its key.
CREATE TABLE refunds (
    id       text PRIMARY KEY,
    order_id text NOT NULL REFERENCES orders ON DELETE CASCADE,
    asked_at timestamptz NOT NULL,
    asked_by text NOT NULL,
    reason   text NOT NULL DEFAULT '',
    restock  boolean NOT NULL,
    mail     boolean NOT NULL
);
CREATE INDEX refunds_order ON refunds (order_id);
CREATE TABLE refund_parts (
    refund_id    text NOT NULL REFERENCES refunds ON DELETE CASCADE,
    payment_id   text NOT NULL REFERENCES payments ON DELETE CASCADE,
    key          text NOT NULL UNIQUE,
    state        text NOT NULL CHECK (state IN ('asked', 'refunded', 'refused')),
    amount_minor bigint NOT NULL CHECK (amount_minor > 0),
    tax_minor    bigint NOT NULL CHECK (tax_minor >= 0),
    message      text NOT NULL DEFAULT '',
    settled_at   timestamptz,
    PRIMARY KEY (refund_id, payment_id)
);
CREATE INDEX refund_parts_payment ON refund_parts (payment_id);
CREATE INDEX refund_parts_unsettled ON refund_parts (refund_id) WHERE state = 'asked';
CREATE TABLE refund_lines (
    refund_id    text NOT NULL,
    payment_id   text NOT NULL,
    position     integer NOT NULL CHECK (position >= -1), -- -1 is delivery
    quantity     integer NOT NULL CHECK (quantity >= 0),
    amount_minor bigint NOT NULL CHECK (amount_minor >= 0),
    tax_minor    bigint NOT NULL CHECK (tax_minor >= 0),
    PRIMARY KEY (refund_id, payment_id, position),
    FOREIGN KEY (refund_id, payment_id) REFERENCES refund_parts ON DELETE CASCADE
);
CREATE INDEX refund_lines_payment ON refund_lines (payment_id, position);

-- Mails of an order: its confirmations, that it was sent, that it was refunded.
ALTER TABLE mails
    ALTER COLUMN payment_id DROP NOT NULL,
    ADD COLUMN kind text NOT NULL DEFAULT 'confirmation' CHECK (kind IN ('confirmation', 'sent', 'refund')),
    ADD COLUMN text text NOT NULL DEFAULT '', -- as it was sent
    ADD CHECK ((kind = 'confirmation') = (payment_id IS NOT NULL));

-- How the owner hears of orders, and when the last daily mail went out.
ALTER TABLE store
    ADD COLUMN order_mail text NOT NULL DEFAULT 'each' CHECK (order_mail IN ('each', 'daily', 'none')),
    ADD COLUMN digest_at  timestamptz;

-- +goose Down
ALTER TABLE store DROP COLUMN order_mail, DROP COLUMN digest_at;
DELETE FROM mails WHERE kind <> 'confirmation';
ALTER TABLE mails DROP COLUMN kind, DROP COLUMN text, ALTER COLUMN payment_id SET NOT NULL;
DROP TABLE refund_lines, refund_parts, refunds, order_notes, parcels;
ALTER TABLE payments DROP COLUMN tax_included, DROP COLUMN tax_minor, DROP COLUMN refunded_minor;
ALTER TABLE orders DROP COLUMN handling, DROP COLUMN refunded_minor, DROP COLUMN told_at;
