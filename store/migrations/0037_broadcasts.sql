-- +goose Up
-- One letter to all at once who are on a list and whom a sentence picks, at a pace.
CREATE TABLE broadcasts (
    id          text PRIMARY KEY,
    campaign_id text NOT NULL REFERENCES campaigns,
    letter_id   text NOT NULL REFERENCES pages ON DELETE CASCADE,
    list_id     text NOT NULL REFERENCES lists ON DELETE CASCADE,
    segment_id  text REFERENCES segments ON DELETE SET NULL, -- whom of the list; none: everybody on it
    rule        jsonb NOT NULL DEFAULT '{}',                 -- the sentence as it was when it was planned
    state       text NOT NULL DEFAULT 'draft' CHECK (state IN ('draft', 'planned', 'going', 'stopped')),
    at          timestamptz,                                 -- when it goes; none: when it is sent off
    pace        integer NOT NULL DEFAULT 5 CHECK (pace BETWEEN 1 AND 100), -- letters a second
    created_at  timestamptz NOT NULL
);
CREATE INDEX broadcasts_campaign ON broadcasts (campaign_id);
CREATE INDEX broadcasts_letter ON broadcasts (letter_id);
CREATE INDEX broadcasts_list ON broadcasts (list_id);
CREATE INDEX broadcasts_segment ON broadcasts (segment_id);
CREATE INDEX broadcasts_planned ON broadcasts (at) WHERE state = 'planned';
ALTER TABLE postings ADD COLUMN broadcast_id text REFERENCES broadcasts ON DELETE CASCADE;
CREATE UNIQUE INDEX postings_broadcast ON postings (broadcast_id, contact_id) WHERE broadcast_id IS NOT NULL;

-- +goose Down
ALTER TABLE postings DROP COLUMN broadcast_id;
DROP TABLE broadcasts;
