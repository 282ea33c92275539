-- +goose Up
-- One order of locks for whatever takes or gives back uses and units: offers by
-- ID, codes by name, lines, variants by ID. An offer or a code without a limit is
-- not locked: its uses are counted in offer_uses.
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
    -- Shared by all buyers, against a limit that is being set (count_uses); and
    -- one buyer's uses of an offer are counted by one payment at a time.
    FOR want IN
        SELECT u.offer_id, u.email, o.max_uses_each FROM offer_uses u JOIN offers o ON o.id = u.offer_id
        WHERE u.payment_id = of_payment ORDER BY u.offer_id
    LOOP
        PERFORM pg_advisory_xact_lock_shared(hashtextextended('uses ' || want.offer_id, 0));
        IF want.max_uses_each > 0 THEN
            PERFORM pg_advisory_xact_lock(hashtextextended('uses ' || want.offer_id || ' ' || want.email, 0));
        END IF;
    END LOOP;
    FOR want IN
        SELECT u.offer_id, u.email, o.name, o.max_uses, o.max_uses_each
        FROM offer_uses u JOIN offers o ON o.id = u.offer_id WHERE u.payment_id = of_payment ORDER BY u.offer_id
    LOOP
        IF want.max_uses > 0 THEN
            UPDATE offers SET used = used + 1 WHERE id = want.offer_id AND (max_uses = 0 OR used < max_uses);
            IF NOT FOUND THEN
                RAISE EXCEPTION USING ERRCODE = 'CH003', MESSAGE = want.name;
            END IF;
        END IF;
        IF want.max_uses_each > 0 THEN
            SELECT count(*) INTO taken FROM offer_uses u WHERE u.offer_id = want.offer_id AND u.email = want.email AND u.held;
            IF taken >= want.max_uses_each THEN
                RAISE EXCEPTION USING ERRCODE = 'CH003', MESSAGE = want.name;
            END IF;
        END IF;
    END LOOP;
    FOR want IN
        SELECT u.code, c.normal, c.max_uses, o.name
        FROM offer_uses u JOIN offers o ON o.id = u.offer_id LEFT JOIN codes c ON c.normal = u.code
        WHERE u.payment_id = of_payment AND u.code <> '' ORDER BY u.code
    LOOP
        IF want.normal IS NOT NULL AND want.max_uses = 0 THEN
            CONTINUE;
        END IF;
        UPDATE codes SET used = used + 1 WHERE normal = want.code AND used < max_uses;
        IF NOT FOUND THEN
            RAISE EXCEPTION USING ERRCODE = 'CH003', MESSAGE = want.name;
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

-- Gives back the uses and units that a payment held, when it came to nothing.
CREATE FUNCTION give_back(of_payment text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
    of_offers text[];
    of_codes text[];
    one text;
    units bigint[];
BEGIN
    WITH gone AS (DELETE FROM offer_uses WHERE payment_id = of_payment RETURNING offer_id, code, held)
    SELECT array_agg(offer_id ORDER BY offer_id), array_agg(code ORDER BY code) FILTER (WHERE code <> '')
    INTO of_offers, of_codes FROM gone WHERE held;
    FOREACH one IN ARRAY coalesce(of_offers, '{}') LOOP
        UPDATE offers SET used = used - 1 WHERE id = one AND max_uses > 0 AND used > 0;
    END LOOP;
    FOREACH one IN ARRAY coalesce(of_codes, '{}') LOOP
        UPDATE codes SET used = used - 1 WHERE normal = one AND max_uses > 0 AND used > 0;
    END LOOP;
    WITH back AS (UPDATE order_lines SET holds = false WHERE payment_id = of_payment AND holds RETURNING variant_id, quantity),
        sums AS (SELECT variant_id, sum(quantity) AS quantity FROM back GROUP BY variant_id)
    SELECT array_agg(variant_id ORDER BY variant_id), array_agg(quantity ORDER BY variant_id) INTO of_offers, units FROM sums;
    FOR i IN 1 .. coalesce(cardinality(units), 0) LOOP
        UPDATE variants v SET reserved = reserved - units[i]
        WHERE v.id = of_offers[i] AND NOT EXISTS (SELECT FROM products p WHERE p.id = v.product_id AND p.form = 'digital');
    END LOOP;
END $$;

-- Takes the units of paid orders out of the stock, many orders at once.
CREATE FUNCTION take_out() RETURNS void LANGUAGE plpgsql AS $$
DECLARE
    sold text[];
    units bigint[];
BEGIN
    WITH lines AS (
        SELECT l.payment_id, l.position FROM order_lines l JOIN payments p ON p.id = l.payment_id
        WHERE l.holds AND p.state = 'charged' ORDER BY l.payment_id, l.position FOR UPDATE OF l SKIP LOCKED),
    out AS (
        UPDATE order_lines l SET holds = false FROM lines
        WHERE l.payment_id = lines.payment_id AND l.position = lines.position RETURNING l.variant_id, l.quantity),
    sums AS (SELECT variant_id, sum(quantity) AS quantity FROM out GROUP BY variant_id)
    SELECT array_agg(variant_id ORDER BY variant_id), array_agg(quantity ORDER BY variant_id) INTO sold, units FROM sums;
    FOR i IN 1 .. coalesce(cardinality(units), 0) LOOP
        UPDATE variants v SET stock = stock - units[i], reserved = reserved - units[i]
        WHERE v.id = sold[i] AND NOT EXISTS (SELECT FROM products p WHERE p.id = v.product_id AND p.form = 'digital');
    END LOOP;
END $$;

-- How many payments hold a use of an offer, while none is being added: for a
-- limit that is set on an offer which had none.
CREATE FUNCTION count_uses(of_offer text) RETURNS integer LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_advisory_xact_lock(hashtextextended('uses ' || of_offer, 0));
    RETURN (SELECT count(*) FROM offer_uses WHERE offer_id = of_offer AND held);
END $$;
-- +goose StatementEnd
DROP FUNCTION release_uses(text);

-- +goose Down
DROP FUNCTION count_uses(text);
DROP FUNCTION take_out();
DROP FUNCTION give_back(text);
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
