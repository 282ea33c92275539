-- +goose Up
-- What was downloaded of an order, how often it still can be, and until when. A round ends
-- when the owner renews it: links of the rounds before lead nowhere.
ALTER TABLE store ADD COLUMN download_most integer NOT NULL DEFAULT 5 CHECK (download_most BETWEEN 1 AND 100),
    ADD COLUMN download_days integer NOT NULL DEFAULT 30 CHECK (download_days BETWEEN 1 AND 3650);
CREATE TABLE downloads (
    order_id   text NOT NULL REFERENCES orders ON DELETE CASCADE,
    variant_id text NOT NULL REFERENCES variants ON DELETE CASCADE,
    round      integer NOT NULL DEFAULT 1 CHECK (round > 0),
    taken      integer NOT NULL DEFAULT 0 CHECK (taken BETWEEN 0 AND most),
    most       integer NOT NULL CHECK (most BETWEEN 1 AND 100),
    until      timestamptz NOT NULL,
    last_at    timestamptz,
    PRIMARY KEY (order_id, variant_id)
);
CREATE INDEX downloads_variant ON downloads (variant_id);
INSERT INTO downloads (order_id, variant_id, most, until)
SELECT DISTINCT l.order_id, l.variant_id, 5, now() + interval '30 days' FROM order_lines l JOIN payments p ON p.id = l.payment_id AND p.state = 'charged'
    JOIN variants v ON v.id = l.variant_id JOIN products q ON q.id = v.product_id WHERE q.form = 'digital';
ALTER TABLE mails DROP CONSTRAINT mails_kind_check, ADD CONSTRAINT mails_kind_check CHECK (kind IN ('confirmation', 'sent', 'refund', 'awaits', 'lapsed', 'download'));

-- +goose Down
DELETE FROM mails WHERE kind = 'download';
ALTER TABLE mails DROP CONSTRAINT mails_kind_check, ADD CONSTRAINT mails_kind_check CHECK (kind IN ('confirmation', 'sent', 'refund', 'awaits', 'lapsed'));
DROP TABLE downloads;
ALTER TABLE store DROP COLUMN download_most, DROP COLUMN download_days;
