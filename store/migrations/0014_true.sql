-- +goose Up
-- What changed prices by hand, and of which goods: a price that was seen is
-- honoured for the grace time after the first such change, not after any.
CREATE TABLE price_changes (
    id    bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at    timestamptz NOT NULL,
    what  text NOT NULL CHECK (what IN ('goods', 'offer', 'rates')),
    goods text[]            -- variants that it touched; NULL: any
);
CREATE INDEX price_changes_at ON price_changes (at);

-- +goose StatementBegin
CREATE FUNCTION note_prices() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO price_changes (at, what, goods) VALUES (said_moment(), 'goods', ARRAY[NEW.id]);
    RETURN NULL;
END $$;
CREATE FUNCTION note_product() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF NEW.form IS DISTINCT FROM OLD.form OR NEW.tax_class IS DISTINCT FROM OLD.tax_class THEN
        INSERT INTO price_changes (at, what, goods) SELECT said_moment(), 'goods', array_agg(id) FROM variants WHERE product_id = NEW.id;
    END IF;
    RETURN NULL;
END $$;
CREATE FUNCTION note_offer() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE o offers := coalesce(NEW, OLD);
BEGIN
    INSERT INTO price_changes (at, what, goods) VALUES (said_moment(), 'offer',
        CASE WHEN o.general OR o.shelf_id IS NOT NULL THEN NULL ELSE (SELECT array_agg(variant_id) FROM offer_goods WHERE offer_id = o.id) END);
    IF TG_OP = 'UPDATE' AND (OLD.general OR OLD.shelf_id IS NOT NULL) AND NOT (o.general OR o.shelf_id IS NOT NULL) THEN
        INSERT INTO price_changes (at, what, goods) VALUES (said_moment(), 'offer', NULL);
    END IF;
    RETURN o;
END $$;
CREATE FUNCTION note_offer_goods() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO price_changes (at, what, goods) SELECT said_moment(), 'offer', array_agg(variant_id) FROM changed_rows HAVING count(*) > 0;
    RETURN NULL;
END $$;
CREATE FUNCTION note_deadline() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO price_changes (at, what, goods)
    SELECT said_moment(), 'offer', CASE WHEN o.general OR o.shelf_id IS NOT NULL THEN NULL ELSE (SELECT array_agg(variant_id) FROM offer_goods WHERE offer_id = o.id) END
    FROM offers o WHERE o.deadline_id = NEW.id AND o.ended_at IS NULL;
    RETURN NULL;
END $$;
CREATE FUNCTION note_shelf() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO price_changes (at, what) SELECT said_moment(), 'offer' WHERE EXISTS (SELECT FROM offers o WHERE o.shelf_id = NEW.id AND o.ended_at IS NULL);
    RETURN NULL;
END $$;
CREATE FUNCTION note_rates() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO price_changes (at, what) VALUES (said_moment(), TG_ARGV[0]);
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER note_prices AFTER UPDATE OF price_minor, weight_grams ON variants FOR EACH ROW
    WHEN (NEW.price_minor IS DISTINCT FROM OLD.price_minor OR NEW.weight_grams IS DISTINCT FROM OLD.weight_grams) EXECUTE FUNCTION note_prices();
CREATE TRIGGER note_product AFTER UPDATE OF form, tax_class ON products FOR EACH ROW EXECUTE FUNCTION note_product();
CREATE TRIGGER note_offer AFTER INSERT OR UPDATE OF kind, percent, amount_minor, only_via, starts_at, deadline_id, class, general, shelf_id, detail, needs_code, max_uses, max_uses_each, ended_at
    ON offers FOR EACH ROW EXECUTE FUNCTION note_offer();
CREATE TRIGGER note_offer_gone BEFORE DELETE ON offers FOR EACH ROW EXECUTE FUNCTION note_offer();
CREATE TRIGGER note_offer_goods_in AFTER INSERT ON offer_goods REFERENCING NEW TABLE AS changed_rows FOR EACH STATEMENT EXECUTE FUNCTION note_offer_goods();
CREATE TRIGGER note_offer_goods_out AFTER DELETE ON offer_goods REFERENCING OLD TABLE AS changed_rows FOR EACH STATEMENT EXECUTE FUNCTION note_offer_goods();
CREATE TRIGGER note_deadline AFTER UPDATE ON deadlines FOR EACH ROW EXECUTE FUNCTION note_deadline();
CREATE TRIGGER note_shelf AFTER UPDATE ON shelves FOR EACH ROW EXECUTE FUNCTION note_shelf();
CREATE TRIGGER note_codes AFTER DELETE ON codes FOR EACH STATEMENT EXECUTE FUNCTION note_rates('offer');
CREATE TRIGGER note_rates AFTER INSERT OR UPDATE OR DELETE ON tax_rates FOR EACH STATEMENT EXECUTE FUNCTION note_rates('rates');
CREATE TRIGGER note_rates AFTER UPDATE OF tax_included ON store FOR EACH STATEMENT EXECUTE FUNCTION note_rates('rates');
CREATE TRIGGER note_rates AFTER INSERT OR UPDATE OR DELETE ON shipping_zones FOR EACH STATEMENT EXECUTE FUNCTION note_rates('rates');
CREATE TRIGGER note_rates AFTER INSERT OR UPDATE OR DELETE ON shipping_steps FOR EACH STATEMENT EXECUTE FUNCTION note_rates('rates');

ALTER TABLE store DROP COLUMN changed_at;

-- What live pages show, of those that anybody may open: a page of an order is
-- nowhere to be led to.
CREATE VIEW public_shows AS
SELECT s.address, s.what, s.ref, l.page_id FROM live_shows s JOIN live_pages l USING (address)
WHERE NOT EXISTS (SELECT FROM campaigns c JOIN editions e ON e.id = c.live_edition_id, jsonb_array_elements(CASE jsonb_typeof(e.content->'funnel'->'steps') WHEN 'array' THEN e.content->'funnel'->'steps' ELSE '[]' END) AS step
    WHERE c.id = l.campaign_id AND step->>'page_id' = l.page_id AND step->>'kind' <> 'sales');

-- The file that a form hands out, by mail too.
ALTER TABLE leads ADD COLUMN gives text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE leads DROP COLUMN gives;
ALTER TABLE store ADD COLUMN changed_at timestamptz NOT NULL DEFAULT now();
DROP VIEW public_shows;
DROP TRIGGER note_rates ON shipping_steps;
DROP TRIGGER note_rates ON shipping_zones;
DROP TRIGGER note_rates ON tax_rates;
DROP TRIGGER note_rates ON store;
DROP TRIGGER note_codes ON codes;
DROP TRIGGER note_shelf ON shelves;
DROP TRIGGER note_deadline ON deadlines;
DROP TRIGGER note_offer_goods_out ON offer_goods;
DROP TRIGGER note_offer_goods_in ON offer_goods;
DROP TRIGGER note_offer_gone ON offers;
DROP TRIGGER note_offer ON offers;
DROP TRIGGER note_product ON products;
DROP TRIGGER note_prices ON variants;
DROP FUNCTION note_rates(), note_shelf(), note_deadline(), note_offer_goods(), note_offer(), note_product(), note_prices();
DROP TABLE price_changes;
