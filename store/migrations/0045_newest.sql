-- Whoever is found by a sentence is listed by what they did last of it: found in that order.

-- +goose Up
DROP INDEX members_on;
CREATE INDEX members_on ON members (list_id, on_at DESC, contact_id) WHERE state = 'on';
DROP INDEX postings_letter;
CREATE INDEX postings_letter ON postings (letter_id, sent_at DESC) WHERE letter_id IS NOT NULL;
CREATE INDEX postings_sent ON postings (sent_at DESC) WHERE letter_id IS NOT NULL AND sent_at IS NOT NULL;
CREATE INDEX postings_clicks ON postings (letter_id, clicked_at DESC) WHERE clicked_at IS NOT NULL;

-- +goose Down
DROP INDEX postings_clicks;
DROP INDEX postings_sent;
DROP INDEX postings_letter;
CREATE INDEX postings_letter ON postings (letter_id) WHERE letter_id IS NOT NULL;
DROP INDEX members_on;
CREATE INDEX members_on ON members (list_id, on_at DESC) WHERE state = 'on';
