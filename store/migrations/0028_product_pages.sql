-- +goose Up
-- Every one of the goods has a readable address on the shopfront, which stays when it is
-- renamed.
-- +goose StatementBegin
CREATE FUNCTION address_of(name text) RETURNS text IMMUTABLE LANGUAGE sql AS $$
    SELECT coalesce(nullif(trim(BOTH '-' FROM left(trim(BOTH '-' FROM regexp_replace(
        regexp_replace(normalize(replace(replace(replace(replace(lower(name), 'ß', 'ss'), 'ø', 'o'), 'æ', 'ae'), 'ł', 'l'), NFKD), '[^ -~]', '', 'g'),
        '[^a-z0-9]+', '-', 'g')), 70)), ''), 'goods')
$$;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE FUNCTION variant_address() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    base text;
BEGIN
    IF coalesce(NEW.address, '') <> '' THEN
        RETURN NEW;
    END IF;
    SELECT address_of(p.name || ' ' || coalesce(NEW.label, '')) INTO base FROM products p WHERE p.id = NEW.product_id;
    NEW.address := coalesce(base, 'goods');
    IF EXISTS (SELECT FROM variants WHERE address = NEW.address) THEN
        NEW.address := NEW.address || '-' || address_of(NEW.sku);
    END IF;
    IF EXISTS (SELECT FROM variants WHERE address = NEW.address) THEN
        NEW.address := NEW.address || '-' || address_of(NEW.id);
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
ALTER TABLE variants ADD COLUMN address text;
UPDATE variants v SET address = n.address || CASE WHEN n.nth = 1 THEN '' ELSE '-' || address_of(v.sku) || '-' || n.nth END
FROM (SELECT w.id, address_of(p.name || ' ' || w.label) AS address, row_number() OVER (PARTITION BY address_of(p.name || ' ' || w.label) ORDER BY w.id) AS nth
    FROM variants w JOIN products p ON p.id = w.product_id) n WHERE n.id = v.id;
ALTER TABLE variants ALTER COLUMN address SET NOT NULL, ADD UNIQUE (address), ADD CHECK (address ~ '^[a-z0-9]+(-[a-z0-9]+)*$');
CREATE TRIGGER variant_address BEFORE INSERT ON variants FOR EACH ROW EXECUTE FUNCTION variant_address();

-- +goose Down
DROP TRIGGER variant_address ON variants;
ALTER TABLE variants DROP COLUMN address;
DROP FUNCTION variant_address();
DROP FUNCTION address_of(text);
