-- +goose Up
-- Kinds of offer are what the program says they are: it writes them here when it
-- starts, with what each always has. What an offer says of itself stands in detail as
-- docs/formats/quote.md has it.
CREATE TABLE offer_kinds (
    kind    text PRIMARY KEY,
    percent boolean NOT NULL, -- always takes a percentage, above zero
    amount  boolean NOT NULL  -- always takes an amount, above zero
);
INSERT INTO offer_kinds VALUES
    ('percent_off', true, false), ('amount_off', false, true), ('set_price', false, false), ('steps', false, false), ('buy_get', false, false),
    ('set', false, false), ('order_percent_off', true, false), ('order_amount_off', false, true), ('gift', false, false), ('shipping', false, false);

-- +goose StatementBegin
DO $$
DECLARE one text;
BEGIN
    FOR one IN SELECT conname FROM pg_constraint WHERE conrelid = 'offers'::regclass AND contype = 'c' AND pg_get_constraintdef(oid) LIKE '%kind%' LOOP
        EXECUTE format('ALTER TABLE offers DROP CONSTRAINT %I', one);
    END LOOP;
END $$;
-- +goose StatementEnd
ALTER TABLE offers ADD CONSTRAINT offers_kind FOREIGN KEY (kind) REFERENCES offer_kinds;

-- +goose StatementBegin
CREATE FUNCTION hold_offer_kind() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE k offer_kinds;
BEGIN
    SELECT * INTO k FROM offer_kinds WHERE kind = NEW.kind;
    IF k.percent AND NEW.percent <= 0 OR k.amount AND NEW.amount_minor <= 0 THEN
        RAISE check_violation USING MESSAGE = format('an offer of the kind %s takes more than zero', NEW.kind);
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER hold_offer_kind BEFORE INSERT OR UPDATE OF kind, percent, amount_minor ON offers FOR EACH ROW EXECUTE FUNCTION hold_offer_kind();

UPDATE offers SET detail = jsonb_set(detail, '{min_subtotal}', jsonb_build_object('minor', detail->'min_subtotal', 'currency', (SELECT currency FROM store LIMIT 1)))
WHERE jsonb_typeof(detail->'min_subtotal') = 'number';

-- +goose Down
UPDATE offers SET detail = jsonb_set(detail, '{min_subtotal}', detail->'min_subtotal'->'minor') WHERE jsonb_typeof(detail->'min_subtotal') = 'object';
DROP TRIGGER hold_offer_kind ON offers;
DROP FUNCTION hold_offer_kind;
ALTER TABLE offers DROP CONSTRAINT offers_kind,
    ADD CHECK (kind IN ('percent_off', 'amount_off', 'set_price', 'steps', 'buy_get', 'set', 'order_percent_off', 'order_amount_off', 'gift', 'shipping')),
    ADD CHECK (kind NOT IN ('percent_off', 'order_percent_off') OR percent > 0),
    ADD CHECK (kind NOT IN ('amount_off', 'order_amount_off') OR amount_minor > 0);
DROP TABLE offer_kinds;
