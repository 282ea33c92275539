-- +goose Up
-- Other programs that are told of what happens here.
CREATE TABLE relays (
    id         text PRIMARY KEY,
    name       text NOT NULL CHECK (name <> '' AND char_length(name) <= 80),
    url        text NOT NULL CHECK (url ~ '^https?://'),
    secret     text NOT NULL,                       -- by which messages are signed
    events     text[] NOT NULL CHECK (cardinality(events) > 0),
    list_id    text REFERENCES lists ON DELETE CASCADE,  -- of whose people alone; none: of all
    page_id    text REFERENCES pages ON DELETE CASCADE,  -- by whose forms alone; none: by all
    shape      text NOT NULL CHECK (shape IN ('json', 'form')),
    fields     jsonb NOT NULL DEFAULT '[]',
    stopped    text NOT NULL DEFAULT '',            -- why nothing is sent; empty: it is
    created_at timestamptz NOT NULL
);
CREATE INDEX relays_list ON relays (list_id);
CREATE INDEX relays_page ON relays (page_id);

-- One piece of news for one of them.
CREATE TABLE dispatches (
    id       text PRIMARY KEY DEFAULT 'msg_' || replace(gen_random_uuid()::text, '-', ''),
    relay_id text NOT NULL REFERENCES relays ON DELETE CASCADE,
    event    text NOT NULL,
    ref      text NOT NULL,                         -- of what it is about
    other    text NOT NULL DEFAULT '',              -- the list, where it is about somebody on one
    at       timestamptz NOT NULL,                  -- when it happened
    kind     text NOT NULL DEFAULT '',              -- media type of the body
    body     text NOT NULL DEFAULT '',              -- as it is sent, at every try; empty: not written yet
    due_at   timestamptz NOT NULL,
    tries    integer NOT NULL DEFAULT 0,
    done_at  timestamptz,
    dropped  text NOT NULL DEFAULT ''
);
CREATE INDEX dispatches_due ON dispatches (due_at) WHERE done_at IS NULL AND dropped = '';
CREATE INDEX dispatches_relay ON dispatches (relay_id, at DESC);

CREATE TABLE dispatch_tries (
    dispatch_id text NOT NULL REFERENCES dispatches ON DELETE CASCADE,
    at         timestamptz NOT NULL,
    status     integer NOT NULL,                    -- of HTTP; 0: no answer
    says       text NOT NULL DEFAULT '',
    PRIMARY KEY (dispatch_id, at)
);

-- News is kept by the database itself, in the transaction that makes it, so that none is
-- forgotten whatever part of the program does it.
-- +goose StatementBegin
CREATE FUNCTION relay_news(happened text, about text, list text, page text, moment timestamptz) RETURNS void LANGUAGE sql AS $$
    INSERT INTO dispatches (relay_id, event, ref, other, at, due_at)
    SELECT id, happened, about, coalesce(list, ''), moment, moment FROM relays
    WHERE happened = ANY (events) AND stopped = '' AND (list_id IS NULL OR list_id = list) AND (page_id IS NULL OR page_id = page)
$$;
CREATE FUNCTION relay_member() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
    IF NEW.state = 'on' AND (TG_OP = 'INSERT' OR OLD.state <> 'on') AND NEW.page_id IS NOT NULL THEN
        PERFORM relay_news('lead.created', NEW.contact_id, NEW.list_id, NEW.page_id, NEW.on_at);
    ELSIF NEW.state = 'off' AND TG_OP = 'UPDATE' AND OLD.state <> 'off' THEN
        PERFORM relay_news('contact.unsubscribed', NEW.contact_id, NEW.list_id, NEW.page_id, NEW.off_at);
    END IF;
    RETURN NULL;
END $$;
-- A lead is told of by itself only where its form put it on no list: else joining tells it,
-- once they are on it. It is looked at when all of it is kept.
CREATE FUNCTION relay_lead() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
    IF NEW.kind = 'appointment' THEN
        PERFORM relay_news('booking.created', NEW.id, NULL, NEW.page_id, NEW.at);
    ELSIF NEW.kind IN ('opt_in', 'newsletter') AND NOT EXISTS (SELECT FROM members m JOIN contacts c ON c.id = m.contact_id WHERE lower(c.email) = lower(NEW.email) AND m.page_id = NEW.page_id) THEN
        PERFORM relay_news('lead.created', NEW.id, NULL, NEW.page_id, NEW.at);
    END IF;
    RETURN NULL;
END $$;
CREATE FUNCTION relay_order() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
    IF NEW.state = 'paid' AND OLD.state <> 'paid' THEN
        PERFORM relay_news('order.paid', NEW.id, NULL, (SELECT page_id FROM steps WHERE id = NEW.step_id), NEW.paid_at);
    END IF;
    RETURN NULL;
END $$;
CREATE FUNCTION relay_refund() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
    IF NEW.state = 'refunded' AND OLD.state <> 'refunded' AND NOT EXISTS (SELECT FROM refund_parts WHERE refund_id = NEW.refund_id AND state = 'asked') THEN
        PERFORM relay_news('refund.made', NEW.refund_id, NULL, (SELECT s.page_id FROM refunds r JOIN orders o ON o.id = r.order_id JOIN steps s ON s.id = o.step_id WHERE r.id = NEW.refund_id), NEW.settled_at);
    END IF;
    RETURN NULL;
END $$;
CREATE FUNCTION relay_parcel() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
    PERFORM relay_news('shipment.sent', NEW.id, NULL, (SELECT s.page_id FROM orders o JOIN steps s ON s.id = o.step_id WHERE o.id = NEW.order_id), NEW.sent_at);
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER relay_member AFTER INSERT OR UPDATE OF state ON members FOR EACH ROW EXECUTE FUNCTION relay_member();
CREATE CONSTRAINT TRIGGER relay_lead AFTER INSERT ON leads DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION relay_lead();
CREATE TRIGGER relay_order AFTER UPDATE OF state ON orders FOR EACH ROW EXECUTE FUNCTION relay_order();
CREATE TRIGGER relay_refund AFTER UPDATE OF state ON refund_parts FOR EACH ROW EXECUTE FUNCTION relay_refund();
CREATE TRIGGER relay_parcel AFTER INSERT ON parcels FOR EACH ROW EXECUTE FUNCTION relay_parcel();

-- +goose Down
DROP TRIGGER relay_member ON members;
DROP TRIGGER relay_lead ON leads;
DROP TRIGGER relay_order ON orders;
DROP TRIGGER relay_refund ON refund_parts;
DROP TRIGGER relay_parcel ON parcels;
DROP FUNCTION relay_member(), relay_lead(), relay_order(), relay_refund(), relay_parcel(), relay_news(text, text, text, text, timestamptz);
DROP TABLE dispatch_tries, dispatches, relays;
