-- +goose Up
CREATE TABLE store (
    id            smallint PRIMARY KEY DEFAULT 1 CHECK (id = 1),
    name          text NOT NULL CHECK (name <> ''),
    currency      text NOT NULL CHECK (currency ~ '^[A-Z]{3}$'),
    zone          text NOT NULL,
    grace_seconds integer NOT NULL CHECK (grace_seconds BETWEEN 0 AND 86400),
    legal_name    text NOT NULL DEFAULT '',
    legal_address text NOT NULL DEFAULT '',
    contact_email text NOT NULL DEFAULT '',
    privacy       text NOT NULL DEFAULT '',
    terms         text NOT NULL DEFAULT '',
    seal_key      bytea NOT NULL,              -- signs what visitors were shown
    changed_at    timestamptz NOT NULL         -- last change of goods, offers or deadlines by hand
);
CREATE SEQUENCE order_numbers START 1001;

CREATE TABLE users (
    id            text PRIMARY KEY,
    email         text NOT NULL UNIQUE CHECK (email = lower(email)),
    name          text NOT NULL,
    password_hash text NOT NULL
);

CREATE TABLE sessions (
    token_hash bytea PRIMARY KEY,
    user_id    text NOT NULL REFERENCES users ON DELETE CASCADE,
    csrf       text NOT NULL,
    expires_at timestamptz NOT NULL
);
CREATE INDEX sessions_user ON sessions (user_id);

CREATE TABLE pictures (
    id     text PRIMARY KEY,
    name   text NOT NULL,
    alt    text NOT NULL DEFAULT '',
    mime   text NOT NULL CHECK (mime IN ('image/svg+xml', 'image/png', 'image/jpeg')),
    width  integer NOT NULL CHECK (width BETWEEN 1 AND 20000),
    height integer NOT NULL CHECK (height BETWEEN 1 AND 20000),
    hash   text NOT NULL UNIQUE,
    bytes  bytea NOT NULL
);

CREATE TABLE products (
    id         text PRIMARY KEY,
    name       text NOT NULL CHECK (name <> ''),
    form       text NOT NULL CHECK (form IN ('physical', 'digital')),
    picture_id text REFERENCES pictures
);
CREATE INDEX products_picture ON products (picture_id);

-- One variant a product for now; prices and stock belong to the variant.
CREATE TABLE variants (
    id          text PRIMARY KEY,
    product_id  text NOT NULL UNIQUE REFERENCES products ON DELETE CASCADE,
    sku         text NOT NULL UNIQUE,
    price_minor bigint NOT NULL CHECK (price_minor BETWEEN 0 AND 1000000000000),
    stock       integer NOT NULL CHECK (stock >= 0),
    -- Units promised: to orders being paid for, and to paid ones whose units are
    -- not yet taken out of the stock. What may be sold is stock - reserved.
    reserved    integer NOT NULL DEFAULT 0 CHECK (reserved BETWEEN 0 AND stock)
);

-- The price ledger: every price a variant has had, and since when.
CREATE TABLE price_ledger (
    variant_id  text NOT NULL REFERENCES variants ON DELETE CASCADE,
    since       timestamptz NOT NULL,
    price_minor bigint NOT NULL,
    PRIMARY KEY (variant_id, since)
);

CREATE TABLE deadlines (
    id   text PRIMARY KEY,
    name text NOT NULL CHECK (name <> ''),
    at   timestamptz NOT NULL,
    zone text NOT NULL
);

CREATE TABLE offers (
    id           text PRIMARY KEY,
    name         text NOT NULL CHECK (name <> ''),
    kind         text NOT NULL CHECK (kind IN ('percent_off', 'amount_off')),
    percent      numeric(7, 4) NOT NULL DEFAULT 0,
    amount_minor bigint NOT NULL DEFAULT 0,
    product_id   text NOT NULL REFERENCES products ON DELETE CASCADE,
    only_via     text NOT NULL DEFAULT '' CHECK (only_via IN ('', 'bump', 'upsell')),
    starts_at    timestamptz,
    deadline_id  text REFERENCES deadlines,
    created_at   timestamptz NOT NULL,
    CHECK (CASE kind WHEN 'percent_off' THEN percent > 0 AND percent <= 100 ELSE amount_minor > 0 END)
);
CREATE INDEX offers_product ON offers (product_id);
CREATE INDEX offers_deadline ON offers (deadline_id);

CREATE TABLE campaigns (
    id              text PRIMARY KEY,
    name            text NOT NULL CHECK (name <> ''),
    live_edition_id text
);

CREATE TABLE pages (
    id          text PRIMARY KEY,
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    name        text NOT NULL CHECK (name <> ''),
    purpose     text NOT NULL,
    address     text NOT NULL UNIQUE CHECK (address ~ '^[a-z0-9]+(-[a-z0-9]+)*$' AND length(address) <= 60),
    title       text NOT NULL DEFAULT '',
    description text NOT NULL DEFAULT '',
    manuscript  jsonb NOT NULL,
    revision    bigint NOT NULL DEFAULT 0
);
CREATE INDEX pages_campaign ON pages (campaign_id);

-- Every change of a manuscript with what takes it back.
CREATE TABLE changes (
    page_id text NOT NULL REFERENCES pages ON DELETE CASCADE,
    seq     bigint NOT NULL,
    at      timestamptz NOT NULL,
    user_id text NOT NULL REFERENCES users,
    command jsonb NOT NULL,
    inverse jsonb NOT NULL,
    undone  boolean NOT NULL DEFAULT false,
    PRIMARY KEY (page_id, seq)
);
CREATE INDEX changes_user ON changes (user_id);

CREATE TABLE steps (
    id          text PRIMARY KEY,
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    page_id     text NOT NULL UNIQUE REFERENCES pages,
    kind        text NOT NULL CHECK (kind IN ('sales', 'upsell', 'thank_you')),
    position    integer NOT NULL,
    UNIQUE (campaign_id, position)
);

CREATE TABLE routes (
    from_step text NOT NULL REFERENCES steps ON DELETE CASCADE,
    outcome   text NOT NULL CHECK (outcome IN ('bought', 'accepted', 'declined')),
    to_step   text NOT NULL REFERENCES steps ON DELETE CASCADE,
    PRIMARY KEY (from_step, outcome)
);
CREATE INDEX routes_to ON routes (to_step);

-- Editions never change: the trigger below refuses it.
CREATE TABLE editions (
    id           text PRIMARY KEY,
    campaign_id  text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    number       integer NOT NULL CHECK (number > 0),
    content      jsonb NOT NULL,
    published_at timestamptz NOT NULL,
    published_by text NOT NULL,
    UNIQUE (campaign_id, number)
);
ALTER TABLE campaigns ADD FOREIGN KEY (live_edition_id) REFERENCES editions;
CREATE INDEX campaigns_live ON campaigns (live_edition_id);
-- +goose StatementBegin
CREATE FUNCTION editions_stand() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'an edition cannot be changed';
END $$;
-- +goose StatementEnd
CREATE TRIGGER editions_stand BEFORE UPDATE ON editions FOR EACH ROW EXECUTE FUNCTION editions_stand();

-- Which page answers which address, of all live editions.
CREATE TABLE live_pages (
    address     text PRIMARY KEY,
    page_id     text NOT NULL UNIQUE,
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE
);
CREATE INDEX live_pages_campaign ON live_pages (campaign_id);

CREATE TABLE orders (
    id          text PRIMARY KEY,
    token       text NOT NULL UNIQUE,       -- names the order in links
    number      bigint UNIQUE,              -- given when paid
    visitor     text NOT NULL,              -- secret of the browser that ordered
    campaign_id text NOT NULL REFERENCES campaigns,
    step_id     text NOT NULL,
    edition_id  text NOT NULL REFERENCES editions,
    state       text NOT NULL CHECK (state IN ('open', 'paying', 'paid', 'released')),
    name        text NOT NULL,
    email       text NOT NULL,
    address     jsonb NOT NULL DEFAULT '{}',
    currency    text NOT NULL,
    total_minor bigint NOT NULL DEFAULT 0 CHECK (total_minor >= 0),
    kept_token  text NOT NULL DEFAULT '',
    created_at  timestamptz NOT NULL,
    paid_at     timestamptz,
    CHECK ((state = 'paid') = (paid_at IS NOT NULL AND number IS NOT NULL))
);
-- One unfinished order for each browser and step: pressing twice, or in two
-- tabs, meets the same order.
CREATE UNIQUE INDEX orders_unfinished ON orders (visitor, step_id) WHERE state IN ('open', 'paying');
CREATE INDEX orders_paid ON orders (campaign_id, paid_at) WHERE state = 'paid';
CREATE INDEX orders_again ON orders (visitor, step_id, paid_at) WHERE state = 'paid';
CREATE INDEX orders_edition ON orders (edition_id);
CREATE INDEX orders_stale ON orders (created_at) WHERE state = 'open';

CREATE TABLE payments (
    id           text PRIMARY KEY,
    order_id     text NOT NULL REFERENCES orders ON DELETE CASCADE,
    key          text NOT NULL UNIQUE,      -- idempotency key, stored before the till is asked
    kind         text NOT NULL CHECK (kind IN ('checkout', 'upsell')),
    step_id      text NOT NULL,
    state        text NOT NULL CHECK (state IN ('asked', 'confirming', 'charged', 'refused', 'cancelled')),
    amount_minor bigint NOT NULL CHECK (amount_minor >= 0),
    awaits_card  boolean NOT NULL DEFAULT false, -- the buyer is typing it on the till's own page
    till_id      text NOT NULL DEFAULT '',
    confirm_url  text NOT NULL DEFAULT '',
    message      text NOT NULL DEFAULT '',
    asked_at     timestamptz NOT NULL,
    settled_at   timestamptz
);
-- At most one payment of an order's step is under way or done.
CREATE UNIQUE INDEX payments_once ON payments (order_id, step_id) WHERE state IN ('asked', 'confirming', 'charged');
CREATE INDEX payments_unsettled ON payments (asked_at) WHERE state IN ('asked', 'confirming');

-- Lines belong to the payment that pays for them.
CREATE TABLE order_lines (
    payment_id  text NOT NULL REFERENCES payments ON DELETE CASCADE,
    position    integer NOT NULL,
    order_id    text NOT NULL REFERENCES orders ON DELETE CASCADE,
    product_id  text NOT NULL,
    name        text NOT NULL,
    via         text NOT NULL CHECK (via IN ('page', 'bump', 'upsell')),
    quantity    integer NOT NULL CHECK (quantity > 0),
    list_minor  bigint NOT NULL CHECK (list_minor >= 0),
    price_minor bigint NOT NULL CHECK (price_minor >= 0),
    trail       jsonb NOT NULL DEFAULT '[]',
    holds       boolean NOT NULL DEFAULT false, -- its units are reserved: not yet given back or taken out
    PRIMARY KEY (payment_id, position)
);
CREATE INDEX order_lines_order ON order_lines (order_id);
CREATE INDEX order_lines_holding ON order_lines (payment_id) WHERE holds;

-- Reserves what a payment pays for, all of it or nothing. It runs as a statement
-- of its own, so that the row of much wanted goods is locked for no longer than
-- the database needs, and goods are locked in one order, so that two buyers
-- never wait for each other.
-- +goose StatementBegin
CREATE FUNCTION reserve(of_payment text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
    want record;
BEGIN
    -- A payment that was settled meanwhile must hold nothing any more.
    PERFORM FROM payments WHERE id = of_payment AND state = 'asked' FOR SHARE;
    IF NOT FOUND THEN
        RAISE EXCEPTION USING ERRCODE = 'CH002', MESSAGE = 'the payment is settled';
    END IF;
    UPDATE order_lines SET holds = true WHERE payment_id = of_payment;
    FOR want IN
        SELECT l.product_id, min(l.name) AS name, sum(l.quantity) AS units
        FROM order_lines l JOIN products p ON p.id = l.product_id AND p.form <> 'digital'
        WHERE l.payment_id = of_payment GROUP BY l.product_id ORDER BY l.product_id
    LOOP
        UPDATE variants SET reserved = reserved + want.units
        WHERE product_id = want.product_id AND stock - reserved >= want.units;
        IF NOT FOUND THEN
            RAISE EXCEPTION USING ERRCODE = 'CH001', MESSAGE = want.name;
        END IF;
    END LOOP;
END $$;
-- +goose StatementEnd

-- What a buyer answered on a step after the payment, once.
CREATE TABLE answers (
    order_id text NOT NULL REFERENCES orders ON DELETE CASCADE,
    step_id  text NOT NULL,
    outcome  text NOT NULL CHECK (outcome IN ('accepted', 'declined')),
    at       timestamptz NOT NULL,
    PRIMARY KEY (order_id, step_id)
);
CREATE INDEX answers_step ON answers (step_id, outcome);

CREATE TABLE mails (
    id       text PRIMARY KEY,
    order_id text NOT NULL REFERENCES orders ON DELETE CASCADE,
    payment_id text NOT NULL UNIQUE REFERENCES payments ON DELETE CASCADE,
    sender   text NOT NULL,
    subject  text NOT NULL,
    sent_at  timestamptz
);
CREATE INDEX mails_order ON mails (order_id);

CREATE TABLE events (
    at         timestamptz NOT NULL,
    visitor    text NOT NULL,
    step_id    text NOT NULL,
    edition_id text NOT NULL,
    kind       text NOT NULL CHECK (kind IN ('view'))
) PARTITION BY RANGE (at);
CREATE INDEX events_step ON events (step_id, at, visitor);
CREATE TABLE events_other PARTITION OF events DEFAULT;

-- Caches in every copy of the program hear of changes.
-- +goose StatementBegin
CREATE FUNCTION tell_facts() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('chrysagon', 'facts');
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON products FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON offers FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON deadlines FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON pictures FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON live_pages FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
CREATE TRIGGER tell_facts AFTER UPDATE OF name, zone, legal_name, legal_address, contact_email, privacy, terms ON store FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- Pages show of the stock only whether any is left, so only that is told.
-- +goose StatementBegin
CREATE FUNCTION tell_stock() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'INSERT' OR NEW.price_minor <> OLD.price_minor
        OR (NEW.stock - NEW.reserved > 0) <> (OLD.stock - OLD.reserved > 0) THEN
        PERFORM pg_notify('chrysagon', 'facts');
    END IF;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER tell_stock AFTER INSERT OR UPDATE ON variants FOR EACH ROW EXECUTE FUNCTION tell_stock();

-- +goose StatementBegin
CREATE FUNCTION keep_ledger() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'INSERT' OR NEW.price_minor <> OLD.price_minor THEN
        INSERT INTO price_ledger (variant_id, since, price_minor)
        VALUES (NEW.id, clock_timestamp(), NEW.price_minor);
    END IF;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER keep_ledger AFTER INSERT OR UPDATE OF price_minor ON variants FOR EACH ROW EXECUTE FUNCTION keep_ledger();

-- +goose StatementBegin
CREATE FUNCTION tell_sale() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF NEW.state = 'charged' AND OLD.state <> 'charged' THEN
        PERFORM pg_notify('chrysagon', 'sale');
    END IF;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER tell_sale AFTER UPDATE OF state ON payments FOR EACH ROW EXECUTE FUNCTION tell_sale();

-- +goose Down
DROP SCHEMA public CASCADE;
CREATE SCHEMA public;
