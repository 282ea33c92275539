-- +goose Up
-- Beside the card: on the gateway's own page, by transfer, on collection. Of the last two
-- the owner says when the money came; until then the order is awaited and its goods held.
ALTER TABLE store ADD COLUMN transfer_to text NOT NULL DEFAULT '', -- the account, as a buyer reads it; empty: no transfers
    ADD COLUMN transfer_days integer NOT NULL DEFAULT 7 CHECK (transfer_days BETWEEN 1 AND 60),
    ADD COLUMN collect_at text NOT NULL DEFAULT '', -- where and when goods are fetched; empty: nowhere
    ADD COLUMN collect_days integer NOT NULL DEFAULT 7 CHECK (collect_days BETWEEN 1 AND 60);

ALTER TABLE orders DROP CONSTRAINT orders_state_check,
    ADD CONSTRAINT orders_state_check CHECK (state IN ('open', 'paying', 'awaited', 'paid', 'released')),
    ADD COLUMN reference text UNIQUE; -- that a transfer bears
ALTER TABLE payments DROP CONSTRAINT payments_state_check,
    ADD CONSTRAINT payments_state_check CHECK (state IN ('asked', 'confirming', 'waiting', 'charged', 'refused', 'cancelled')),
    ADD COLUMN way text NOT NULL DEFAULT 'card' CHECK (way IN ('card', 'account', 'transfer', 'collection')),
    ADD COLUMN held_until timestamptz,
    ADD CHECK ((state = 'waiting') <= (held_until IS NOT NULL AND way IN ('transfer', 'collection')));
ALTER TABLE mails DROP CONSTRAINT mails_kind_check, ADD CONSTRAINT mails_kind_check CHECK (kind IN ('confirmation', 'sent', 'refund', 'awaits', 'lapsed'));
DROP INDEX payments_once;
CREATE UNIQUE INDEX payments_once ON payments (order_id, step_id) WHERE state IN ('asked', 'confirming', 'waiting', 'charged');
CREATE INDEX payments_held ON payments (held_until) WHERE state = 'waiting';
DROP INDEX orders_newest;
CREATE INDEX orders_newest ON orders ((coalesce(paid_at, created_at)) DESC, id) WHERE state IN ('paid', 'paying', 'awaited');
CREATE INDEX orders_awaited ON orders (visitor, step_id, created_at) WHERE state = 'awaited';

-- +goose Down
DELETE FROM mails WHERE kind IN ('awaits', 'lapsed');
ALTER TABLE mails DROP CONSTRAINT mails_kind_check, ADD CONSTRAINT mails_kind_check CHECK (kind IN ('confirmation', 'sent', 'refund'));
DROP INDEX orders_awaited;
DROP INDEX orders_newest;
UPDATE orders SET state = 'released' WHERE state = 'awaited';
CREATE INDEX orders_newest ON orders ((coalesce(paid_at, created_at)) DESC, id) WHERE state IN ('paid', 'paying');
DROP INDEX payments_held;
DROP INDEX payments_once;
UPDATE payments SET state = 'cancelled', settled_at = asked_at WHERE state = 'waiting';
CREATE UNIQUE INDEX payments_once ON payments (order_id, step_id) WHERE state IN ('asked', 'confirming', 'charged');
ALTER TABLE payments DROP COLUMN held_until, DROP COLUMN way, DROP CONSTRAINT payments_state_check,
    ADD CONSTRAINT payments_state_check CHECK (state IN ('asked', 'confirming', 'charged', 'refused', 'cancelled'));
ALTER TABLE orders DROP COLUMN reference, DROP CONSTRAINT orders_state_check,
    ADD CONSTRAINT orders_state_check CHECK (state IN ('open', 'paying', 'paid', 'released'));
ALTER TABLE store DROP COLUMN transfer_to, DROP COLUMN transfer_days, DROP COLUMN collect_at, DROP COLUMN collect_days;
