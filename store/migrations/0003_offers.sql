-- +goose Up
-- What the store chose: tax, struck prices, margin, and the days of its year.
ALTER TABLE store
    ADD COLUMN country         text NOT NULL DEFAULT 'PT' CHECK (country ~ '^[A-Z]{2}$'),
    ADD COLUMN countries       text[] NOT NULL DEFAULT '{PT}',   -- whose days the Season place shows
    ADD COLUMN tax_included    boolean NOT NULL DEFAULT true,
    ADD COLUMN floor_percent   numeric(7, 4) NOT NULL DEFAULT 0 CHECK (floor_percent BETWEEN 0 AND 100),
    ADD COLUMN struck          jsonb NOT NULL DEFAULT '{}',
    ADD COLUMN ledger_kept_at  timestamptz,                      -- until when the windows of offers stand in the ledger
    ADD COLUMN handling_days   integer NOT NULL DEFAULT 1 CHECK (handling_days BETWEEN 0 AND 90),
    ADD COLUMN transit_days    integer NOT NULL DEFAULT 3 CHECK (transit_days BETWEEN 0 AND 90),
    ADD COLUMN calendar_key    text NOT NULL DEFAULT '';         -- in the address of the calendar that can be subscribed to

ALTER TABLE deadlines
    ALTER COLUMN at DROP NOT NULL,
    ADD COLUMN kind          text NOT NULL DEFAULT 'fixed' CHECK (kind IN ('fixed', 'visitor_midnight', 'repeating', 'span')),
    ADD COLUMN day           text NOT NULL DEFAULT '',
    ADD COLUMN starts_local  text NOT NULL DEFAULT '',
    ADD COLUMN rule          text NOT NULL DEFAULT '',
    ADD COLUMN runs_seconds  bigint NOT NULL DEFAULT 0 CHECK (runs_seconds >= 0),
    ADD COLUMN span_seconds  bigint NOT NULL DEFAULT 0 CHECK (span_seconds >= 0),
    ADD COLUMN grace_seconds integer NOT NULL DEFAULT 0 CHECK (grace_seconds BETWEEN 0 AND 86400),
    ADD CHECK (kind <> 'fixed' OR at IS NOT NULL);

-- A visitor's first sight of a deadline that counts from it. It never starts
-- again: not in this browser, nor for this email once it is known.
CREATE TABLE sightings (
    visitor     text NOT NULL,
    deadline_id text NOT NULL REFERENCES deadlines ON DELETE CASCADE,
    first_seen  timestamptz NOT NULL,
    email       text NOT NULL DEFAULT '',
    PRIMARY KEY (visitor, deadline_id)
);
CREATE INDEX sightings_email ON sightings (email, deadline_id) WHERE email <> '';
CREATE INDEX sightings_deadline ON sightings (deadline_id);

ALTER TABLE offers
    ADD COLUMN class         text NOT NULL DEFAULT '',
    ADD COLUMN general       boolean NOT NULL DEFAULT false,     -- on all goods, or on none by itself (shipping, order)
    ADD COLUMN shelf_id      text REFERENCES shelves,
    ADD COLUMN detail        jsonb NOT NULL DEFAULT '{}',        -- what only this kind has, and further conditions
    ADD COLUMN needs_code    boolean NOT NULL DEFAULT false,
    ADD COLUMN max_uses      integer NOT NULL DEFAULT 0 CHECK (max_uses >= 0),
    ADD COLUMN max_uses_each integer NOT NULL DEFAULT 0 CHECK (max_uses_each >= 0),
    ADD COLUMN used          integer NOT NULL DEFAULT 0 CHECK (used >= 0 AND (max_uses = 0 OR used <= max_uses)),
    ADD COLUMN ended_at      timestamptz,                        -- ended early, by hand
    DROP CONSTRAINT offers_kind_check,
    DROP CONSTRAINT offers_check,
    ADD CHECK (kind IN ('percent_off', 'amount_off', 'set_price', 'steps', 'buy_get', 'set', 'order_percent_off', 'order_amount_off', 'gift', 'shipping')),
    ADD CHECK (percent BETWEEN 0 AND 100 AND amount_minor >= 0),
    ADD CHECK (kind NOT IN ('percent_off', 'order_percent_off') OR percent > 0),
    ADD CHECK (kind NOT IN ('amount_off', 'order_amount_off') OR amount_minor > 0);
CREATE TABLE offer_goods (
    offer_id   text NOT NULL REFERENCES offers ON DELETE CASCADE,
    variant_id text NOT NULL REFERENCES variants ON DELETE CASCADE,
    PRIMARY KEY (offer_id, variant_id)
);
CREATE INDEX offer_goods_variant ON offer_goods (variant_id);
INSERT INTO offer_goods SELECT o.id, v.id FROM offers o JOIN variants v ON v.product_id = o.product_id;
ALTER TABLE offers DROP COLUMN product_id;
CREATE INDEX offers_shelf ON offers (shelf_id);
CREATE INDEX offers_general ON offers (id) WHERE general OR shelf_id IS NOT NULL;
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON offer_goods FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
DROP TRIGGER tell_facts ON offers;
CREATE TRIGGER tell_facts AFTER INSERT OR DELETE OR UPDATE OF name, kind, percent, amount_minor, only_via, starts_at, deadline_id, class, general, shelf_id, detail, needs_code, max_uses, max_uses_each, ended_at
    ON offers FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

CREATE TABLE codes (
    normal   text PRIMARY KEY,      -- as codes are compared
    code     text NOT NULL,
    offer_id text NOT NULL REFERENCES offers ON DELETE CASCADE,
    max_uses integer NOT NULL DEFAULT 0 CHECK (max_uses >= 0),
    used     integer NOT NULL DEFAULT 0 CHECK (used >= 0 AND (max_uses = 0 OR used <= max_uses))
);
CREATE INDEX codes_offer ON codes (offer_id);

-- Which limited offers a payment uses. Held rows count against the limits.
CREATE TABLE offer_uses (
    payment_id text NOT NULL REFERENCES payments ON DELETE CASCADE,
    offer_id   text NOT NULL REFERENCES offers ON DELETE CASCADE,
    code       text NOT NULL DEFAULT '',   -- normal form; empty: none was needed
    email      text NOT NULL,
    held       boolean NOT NULL DEFAULT false,
    PRIMARY KEY (payment_id, offer_id)
);
CREATE INDEX offer_uses_buyer ON offer_uses (offer_id, email) WHERE held;

-- What is sold is a variant.
ALTER TABLE order_lines RENAME COLUMN product_id TO variant_id;
ALTER TABLE order_lines
    ADD COLUMN off_minor bigint NOT NULL DEFAULT 0 CHECK (off_minor >= 0),   -- share of the order's reductions
    ADD COLUMN tax_minor bigint NOT NULL DEFAULT 0,
    DROP CONSTRAINT order_lines_via_check,
    ADD CHECK (via IN ('page', 'bump', 'upsell', 'gift'));
CREATE INDEX order_lines_variant ON order_lines (variant_id);
ALTER TABLE payments ADD COLUMN summary jsonb NOT NULL DEFAULT '{}';          -- reductions, shipping and taxes as they were quoted
ALTER TABLE orders ADD COLUMN code text NOT NULL DEFAULT '';

-- Reserves what a payment pays for and the uses of limited offers, all of it
-- or nothing. See 0001 for why it is one function.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION reserve(of_payment text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
    want record;
    taken integer;
BEGIN
    PERFORM FROM payments WHERE id = of_payment AND state = 'asked' FOR SHARE;
    IF NOT FOUND THEN
        RAISE EXCEPTION USING ERRCODE = 'CH002', MESSAGE = 'the payment is settled';
    END IF;
    -- Limited offers first: their rows are locked in one order too. The row's
    -- lock makes the count of a buyer's uses hold until this ends.
    FOR want IN
        SELECT u.offer_id, u.code, u.email, o.name, o.max_uses_each
        FROM offer_uses u JOIN offers o ON o.id = u.offer_id WHERE u.payment_id = of_payment ORDER BY u.offer_id
    LOOP
        UPDATE offers SET used = used + 1 WHERE id = want.offer_id AND (max_uses = 0 OR used < max_uses);
        IF NOT FOUND THEN
            RAISE EXCEPTION USING ERRCODE = 'CH003', MESSAGE = want.name;
        END IF;
        IF want.max_uses_each > 0 THEN
            SELECT count(*) INTO taken FROM offer_uses u WHERE u.offer_id = want.offer_id AND u.email = want.email AND u.held;
            IF taken >= want.max_uses_each THEN
                RAISE EXCEPTION USING ERRCODE = 'CH003', MESSAGE = want.name;
            END IF;
        END IF;
        IF want.code <> '' THEN
            UPDATE codes SET used = used + 1 WHERE normal = want.code AND (max_uses = 0 OR used < max_uses);
            IF NOT FOUND THEN
                RAISE EXCEPTION USING ERRCODE = 'CH003', MESSAGE = want.name;
            END IF;
        END IF;
    END LOOP;
    UPDATE offer_uses SET held = true WHERE payment_id = of_payment;
    UPDATE order_lines SET holds = true WHERE payment_id = of_payment;
    FOR want IN
        SELECT l.variant_id, min(l.name) AS name, sum(l.quantity) AS units
        FROM order_lines l JOIN variants v ON v.id = l.variant_id JOIN products p ON p.id = v.product_id AND p.form <> 'digital'
        WHERE l.payment_id = of_payment GROUP BY l.variant_id ORDER BY l.variant_id
    LOOP
        UPDATE variants SET reserved = reserved + want.units
        WHERE id = want.variant_id AND stock - reserved >= want.units;
        IF NOT FOUND THEN
            RAISE EXCEPTION USING ERRCODE = 'CH001', MESSAGE = want.name;
        END IF;
    END LOOP;
END $$;

-- Gives back the uses that a payment held, when it came to nothing.
CREATE FUNCTION release_uses(of_payment text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
    was record;
BEGIN
    FOR was IN DELETE FROM offer_uses WHERE payment_id = of_payment RETURNING offer_id, code, held LOOP
        IF was.held THEN
            UPDATE offers SET used = used - 1 WHERE id = was.offer_id AND used > 0;
            UPDATE codes SET used = used - 1 WHERE normal = was.code AND used > 0;
        END IF;
    END LOOP;
END $$;
-- +goose StatementEnd

CREATE TABLE tax_rates (
    country text NOT NULL CHECK (country ~ '^([A-Z]{2}|\*)$'),
    region  text NOT NULL DEFAULT '',
    class   text NOT NULL DEFAULT 'standard',
    percent numeric(7, 4) NOT NULL CHECK (percent BETWEEN 0 AND 100),
    name    text NOT NULL DEFAULT '',
    PRIMARY KEY (country, region, class)
);
CREATE TABLE shipping_zones (
    id         text PRIMARY KEY,
    name       text NOT NULL,
    countries  text[] NOT NULL CHECK (cardinality(countries) > 0),
    by         text NOT NULL CHECK (by IN ('flat', 'weight', 'total')),
    up_to      bigint NOT NULL DEFAULT 0 CHECK (up_to >= 0),
    free_minor bigint CHECK (free_minor >= 0),
    position   integer NOT NULL
);
CREATE TABLE shipping_steps (
    zone_id     text NOT NULL REFERENCES shipping_zones ON DELETE CASCADE,
    from_amount bigint NOT NULL CHECK (from_amount >= 0),
    price_minor bigint NOT NULL CHECK (price_minor >= 0),
    PRIMARY KEY (zone_id, from_amount)
);
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON tax_rates FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON shipping_zones FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON shipping_steps FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- Campaigns in the year. A day is a date, or so many days from a retail day.
ALTER TABLE campaigns
    ADD COLUMN begins   jsonb,
    ADD COLUMN ends     jsonb,
    ADD COLUMN year     integer CHECK (year BETWEEN 1900 AND 2199),
    ADD COLUMN shelf_id text REFERENCES shelves,
    ADD COLUMN copy_of  text REFERENCES campaigns ON DELETE SET NULL,
    ADD CHECK ((begins IS NULL) = (ends IS NULL) AND (begins IS NULL) = (year IS NULL));
CREATE INDEX campaigns_shelf ON campaigns (shelf_id);
CREATE INDEX campaigns_copy ON campaigns (copy_of);
CREATE TABLE campaign_goods (
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    variant_id  text NOT NULL REFERENCES variants ON DELETE CASCADE,
    PRIMARY KEY (campaign_id, variant_id)
);
CREATE INDEX campaign_goods_variant ON campaign_goods (variant_id);

-- +goose Down
SELECT 1;
