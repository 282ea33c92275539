-- +goose Up
-- Products and their variants. What is sold is a variant.
ALTER TABLE products
    ADD COLUMN category   text NOT NULL DEFAULT '',
    ADD COLUMN tags       text[] NOT NULL DEFAULT '{}',
    ADD COLUMN tax_class  text NOT NULL DEFAULT 'standard',
    ADD COLUMN perishable boolean NOT NULL DEFAULT false,
    ADD COLUMN added_at   timestamptz NOT NULL DEFAULT now(),
    DROP CONSTRAINT products_form_check,
    ADD CHECK (form IN ('physical', 'digital', 'bookable'));
CREATE INDEX products_category ON products (lower(category));
CREATE INDEX products_tags ON products USING gin (tags);

ALTER TABLE variants
    DROP CONSTRAINT variants_product_id_key,
    ADD COLUMN label        text NOT NULL DEFAULT '',  -- what sets it apart from its product's others
    ADD COLUMN cost_minor   bigint CHECK (cost_minor BETWEEN 0 AND 1000000000000),
    ADD COLUMN weight_grams integer NOT NULL DEFAULT 0 CHECK (weight_grams BETWEEN 0 AND 100000000),
    ADD COLUMN condition    text NOT NULL DEFAULT 'new' CHECK (condition IN ('new', 'returned', 'ex-demo')),
    ADD COLUMN received_at  timestamptz,
    ADD COLUMN attributes   jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(attributes) = 'object'),
    ADD COLUMN now_minor    bigint;                    -- what everybody is asked now: the list price or an offer's
UPDATE variants SET now_minor = price_minor;
ALTER TABLE variants ALTER COLUMN now_minor SET NOT NULL, ADD CHECK (now_minor BETWEEN 0 AND 1000000000000);
CREATE INDEX variants_product ON variants (product_id);
CREATE INDEX variants_condition ON variants (condition, now_minor) WHERE condition <> 'new';
CREATE INDEX variants_received ON variants (received_at);
CREATE INDEX variants_now ON variants (now_minor);
CREATE INDEX variants_price ON variants (price_minor);
CREATE INDEX products_name ON products (name COLLATE "C");
CREATE INDEX variants_attributes ON variants USING gin (attributes jsonb_path_ops);

CREATE EXTENSION IF NOT EXISTS pg_trgm;
CREATE INDEX products_name_words ON products USING gin (name gin_trgm_ops);
CREATE INDEX variants_sku_begins ON variants (lower(sku) text_pattern_ops);

CREATE TABLE attributes (
    name  text PRIMARY KEY CHECK (name ~ '^[a-z][a-z0-9_]{0,39}$'),
    label text NOT NULL,
    type  text NOT NULL CHECK (type IN ('number', 'text', 'yes_no')),
    unit  text NOT NULL DEFAULT ''
);

CREATE TABLE product_pictures (
    product_id text NOT NULL REFERENCES products ON DELETE CASCADE,
    picture_id text NOT NULL REFERENCES pictures ON DELETE CASCADE,
    position   integer NOT NULL,
    PRIMARY KEY (product_id, picture_id)
);
CREATE INDEX product_pictures_picture ON product_pictures (picture_id);

-- Uploads: the original is kept beside the sizes that pages need.
ALTER TABLE pictures DROP CONSTRAINT pictures_mime_check,
    ADD CHECK (mime IN ('image/svg+xml', 'image/png', 'image/jpeg')),
    ADD COLUMN added_at timestamptz NOT NULL DEFAULT now();
CREATE TABLE picture_sizes (
    picture_id text NOT NULL REFERENCES pictures ON DELETE CASCADE,
    width      integer NOT NULL CHECK (width BETWEEN 1 AND 20000),
    mime       text NOT NULL,
    bytes      bytea NOT NULL,
    PRIMARY KEY (picture_id, width)
);

-- A digital product's file.
CREATE TABLE files (
    product_id text PRIMARY KEY REFERENCES products ON DELETE CASCADE,
    name       text NOT NULL CHECK (name <> ''),
    bytes      bytea NOT NULL
);

CREATE TABLE shelves (
    id    text PRIMARY KEY,
    name  text NOT NULL CHECK (name <> ''),
    shelf jsonb NOT NULL
);

-- Groups of goods with a picture, for cards that lead to them.
CREATE TABLE goods_groups (
    id         text PRIMARY KEY,
    name       text NOT NULL CHECK (name <> ''),
    picture_id text REFERENCES pictures ON DELETE SET NULL,
    shelf_id   text NOT NULL REFERENCES shelves ON DELETE CASCADE
);
CREATE INDEX goods_groups_shelf ON goods_groups (shelf_id);
CREATE INDEX goods_groups_picture ON goods_groups (picture_id);

-- Changes of many goods at once, with what they were, so that they can be undone.
CREATE TABLE batches (
    id        text PRIMARY KEY,
    at        timestamptz NOT NULL,
    user_id   text REFERENCES users,
    what      text NOT NULL,
    added     integer NOT NULL DEFAULT 0,
    changed   integer NOT NULL DEFAULT 0,
    undone_at timestamptz
);
CREATE INDEX batches_user ON batches (user_id);
CREATE TABLE batch_rows (
    batch_id   text NOT NULL REFERENCES batches ON DELETE CASCADE,
    variant_id text NOT NULL,
    before     jsonb,           -- null: the batch added it
    stock_after integer,         -- the stock that the batch left
    PRIMARY KEY (batch_id, variant_id)
);

-- A file of goods that was handed in, until it is applied or forgotten.
CREATE TABLE imports (
    id      text PRIMARY KEY,
    at      timestamptz NOT NULL,
    user_id text REFERENCES users,
    name    text NOT NULL,
    raw     bytea NOT NULL,
    batch_id text REFERENCES batches
);
CREATE INDEX imports_user ON imports (user_id);
CREATE INDEX imports_batch ON imports (batch_id);

-- Where the rows of an import stand while they are brought in.
CREATE UNLOGGED TABLE staged_goods (
    import_id text NOT NULL, sku text NOT NULL, id text NOT NULL, product_id text NOT NULL, name text, label text, form text, category text, tags text[], price bigint, cost bigint,
    stock integer, weight integer, condition text, received timestamptz, tax_class text, perishable boolean, attributes jsonb
);
CREATE INDEX staged_goods_import ON staged_goods (import_id);

-- The ledger keeps every price that everybody was asked, and the list price
-- beside it. The database writes it itself, whatever the way in.
ALTER TABLE price_ledger ADD COLUMN list_minor bigint, ADD COLUMN why text NOT NULL DEFAULT '';
UPDATE price_ledger SET list_minor = price_minor;
ALTER TABLE price_ledger ALTER COLUMN list_minor SET NOT NULL;
DROP TRIGGER keep_ledger ON variants;
DROP TRIGGER tell_stock ON variants;
-- +goose StatementBegin
-- The program says at which moment of its own a change happens, and why.
CREATE FUNCTION said_moment() RETURNS timestamptz LANGUAGE sql AS
    $$ SELECT coalesce(nullif(current_setting('chrysagon.moment', true), '')::timestamptz, clock_timestamp()) $$;
CREATE FUNCTION said_why() RETURNS text LANGUAGE sql AS $$ SELECT coalesce(current_setting('chrysagon.why', true), '') $$;

CREATE OR REPLACE FUNCTION keep_ledger() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO price_ledger (variant_id, since, price_minor, list_minor, why)
    VALUES (NEW.id, said_moment(), NEW.now_minor, NEW.price_minor, said_why())
    ON CONFLICT (variant_id, since) DO UPDATE SET price_minor = EXCLUDED.price_minor, list_minor = EXCLUDED.list_minor;
    RETURN NULL;
END $$;

-- Many goods can come in at once, so their first prices are kept by statement.
CREATE FUNCTION begin_ledger() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    moment timestamptz := said_moment();
    cause text := said_why();
BEGIN
    INSERT INTO price_ledger (variant_id, since, price_minor, list_minor, why)
    SELECT id, moment, now_minor, price_minor, cause FROM fresh;
    PERFORM pg_notify('chrysagon', 'facts');
    RETURN NULL;
END $$;

-- A list price that is changed by itself takes the asked price along, where no
-- offer stood between them; where one did, the keeper computes it anew.
CREATE FUNCTION follow_price() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    NEW.now_minor := NEW.price_minor;
    RETURN NEW;
END $$;

CREATE OR REPLACE FUNCTION tell_stock() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('chrysagon', 'facts');
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER first_price BEFORE INSERT ON variants FOR EACH ROW WHEN (NEW.now_minor IS NULL) EXECUTE FUNCTION follow_price();
CREATE TRIGGER follow_price BEFORE UPDATE ON variants FOR EACH ROW
    WHEN (NEW.price_minor <> OLD.price_minor AND NEW.now_minor = OLD.now_minor AND OLD.now_minor = OLD.price_minor) EXECUTE FUNCTION follow_price();
CREATE TRIGGER begin_ledger AFTER INSERT ON variants REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION begin_ledger();
CREATE TRIGGER keep_ledger AFTER UPDATE ON variants FOR EACH ROW
    WHEN (NEW.now_minor <> OLD.now_minor OR NEW.price_minor <> OLD.price_minor) EXECUTE FUNCTION keep_ledger();
-- Pages show of the stock only whether any is left, so only that is told.
CREATE TRIGGER tell_stock AFTER UPDATE ON variants FOR EACH ROW
    WHEN (NEW.price_minor <> OLD.price_minor OR NEW.now_minor <> OLD.now_minor OR NEW.label <> OLD.label
        OR NEW.condition <> OLD.condition OR NEW.attributes <> OLD.attributes OR NEW.received_at IS DISTINCT FROM OLD.received_at
        OR (NEW.stock - NEW.reserved > 0) <> (OLD.stock - OLD.reserved > 0)) EXECUTE FUNCTION tell_stock();
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON shelves FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();
CREATE TRIGGER tell_facts AFTER INSERT OR UPDATE OR DELETE ON goods_groups FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- +goose Down
SELECT 1;
