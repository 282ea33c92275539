-- +goose Up
-- A step is a page of the store, or something else that visitors come to; a page may
-- be a step in several campaigns. Which kinds there are is core/route's to say.
ALTER TABLE steps DROP CONSTRAINT steps_page_id_key, DROP CONSTRAINT steps_kind_check;
ALTER TABLE steps ALTER COLUMN page_id DROP NOT NULL,
    ADD COLUMN name    text NOT NULL DEFAULT '' CHECK (length(name) <= 120), -- of what is no page
    ADD COLUMN address text NOT NULL DEFAULT '',                             -- of a page outside
    ADD COLUMN file_id text REFERENCES handouts ON DELETE SET NULL,
    ADD COLUMN aim     text REFERENCES steps ON DELETE SET NULL,             -- of a downsell
    ADD COLUMN dx      integer NOT NULL DEFAULT 0,
    ADD COLUMN dy      integer NOT NULL DEFAULT 0,
    ADD CONSTRAINT steps_kind CHECK (kind ~ '^[a-z]+(_[a-z]+)*$'),
    ADD CONSTRAINT steps_page CHECK ((page_id IS NULL) = (kind IN ('outside', 'file', 'end'))),
    ADD CONSTRAINT steps_outside CHECK ((address <> '') = (kind = 'outside'));
CREATE UNIQUE INDEX steps_of_page ON steps (page_id, campaign_id);
CREATE INDEX steps_file ON steps (file_id);
CREATE INDEX steps_aim ON steps (aim);
UPDATE steps s SET kind = 'downsell' FROM pages p WHERE p.id = s.page_id AND p.purpose = 'downsell';

-- The routes of one outcome, in the order in which they are tried; each leads to its
-- targets by their shares.
CREATE TEMPORARY TABLE former_routes ON COMMIT DROP AS SELECT * FROM routes;
DROP TABLE routes;
CREATE TABLE routes (
    id        text PRIMARY KEY,
    from_step text NOT NULL REFERENCES steps ON DELETE CASCADE,
    outcome   text NOT NULL CHECK (outcome ~ '^[a-z]+(:[a-z0-9]+(-[a-z0-9]+)*)?$'),
    position  integer NOT NULL,
    conditions jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(conditions) = 'array'),
    UNIQUE (from_step, outcome, position)
);
CREATE TABLE route_targets (
    route_id text NOT NULL REFERENCES routes ON DELETE CASCADE,
    to_step  text NOT NULL REFERENCES steps ON DELETE CASCADE,
    share    integer NOT NULL CHECK (share BETWEEN 0 AND 1000000),
    position integer NOT NULL,
    PRIMARY KEY (route_id, to_step)
);
CREATE INDEX route_targets_step ON route_targets (to_step);
INSERT INTO routes (id, from_step, outcome, position) SELECT from_step || '/' || outcome, from_step, outcome, 0 FROM former_routes;
INSERT INTO route_targets (route_id, to_step, share, position) SELECT from_step || '/' || outcome, to_step, 1, 0 FROM former_routes;

-- Every change of a map, with what it was before, so that it can be undone.
CREATE TABLE map_changes (
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    seq     bigint NOT NULL,
    at      timestamptz NOT NULL,
    user_id text NOT NULL REFERENCES users,
    what    text NOT NULL, -- in words
    before  jsonb NOT NULL,
    after   jsonb NOT NULL,
    undone  boolean NOT NULL DEFAULT false,
    PRIMARY KEY (campaign_id, seq)
);
CREATE INDEX map_changes_user ON map_changes (user_id);

-- Where a visitor walks: by which edition's routes, from where they came, where they are.
CREATE TABLE walks (
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    visitor     text NOT NULL,
    id          text NOT NULL UNIQUE, -- names the walk to pages outside
    edition_id  text NOT NULL REFERENCES editions ON DELETE CASCADE,
    begun_at    timestamptz NOT NULL,
    source      text NOT NULL,
    medium      text NOT NULL DEFAULT '',
    by_campaign text NOT NULL DEFAULT '',
    landing     text NOT NULL, -- the step at which they came in
    step_id     text NOT NULL, -- where they were led last
    moved_at    timestamptz NOT NULL,
    counted     boolean NOT NULL, -- that it began was rolled up
    PRIMARY KEY (campaign_id, visitor)
);
CREATE INDEX walks_visitor ON walks (visitor, moved_at);
CREATE INDEX walks_edition ON walks (edition_id);
CREATE INDEX walks_begun ON walks (campaign_id, begun_at);

-- Each step that a visitor saw, once; and each outcome there, once.
CREATE TABLE walk_steps (
    campaign_id text NOT NULL,
    visitor     text NOT NULL,
    step_id     text NOT NULL,
    first_at    timestamptz NOT NULL,
    moved       boolean NOT NULL DEFAULT false, -- something came of it
    PRIMARY KEY (campaign_id, visitor, step_id),
    FOREIGN KEY (campaign_id, visitor) REFERENCES walks ON DELETE CASCADE
);
CREATE INDEX walk_steps_first ON walk_steps (campaign_id, first_at);
CREATE TABLE walk_outcomes (
    campaign_id text NOT NULL,
    visitor     text NOT NULL,
    step_id     text NOT NULL,
    outcome     text NOT NULL,
    to_step     text NOT NULL,
    at          timestamptz NOT NULL,
    PRIMARY KEY (campaign_id, visitor, step_id, outcome, to_step),
    FOREIGN KEY (campaign_id, visitor, step_id) REFERENCES walk_steps ON DELETE CASCADE
);

-- By the hour, and by the day (UTC), in which visitors first came to a step: how many, what came of them
-- (outcome '' is that they came, '*' that anything did), and what they brought.
CREATE TABLE walk_hours (
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    span        text NOT NULL CHECK (span IN ('hour', 'day')),
    hour        timestamptz NOT NULL, -- at which it begins
    step_id     text NOT NULL, -- '' the campaign: where they first came in is to_step
    source      text NOT NULL,
    outcome     text NOT NULL,
    to_step     text NOT NULL,
    visitors    bigint NOT NULL DEFAULT 0,
    orders      bigint NOT NULL DEFAULT 0,
    money_minor bigint NOT NULL DEFAULT 0,
    PRIMARY KEY (campaign_id, span, hour, step_id, source, outcome, to_step)
);

-- What came of visitors and was not yet rolled up. It is written in the transaction in
-- which it happened, and taken out in the one that rolls it up.
CREATE TABLE footprints (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at          timestamptz NOT NULL,
    visitor     text NOT NULL,
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    edition_id  text NOT NULL REFERENCES editions ON DELETE CASCADE,
    page_id     text NOT NULL DEFAULT '',
    step_id     text NOT NULL,
    outcome     text NOT NULL, -- '' is that they saw it
    to_step     text NOT NULL DEFAULT '',
    orders      integer NOT NULL DEFAULT 0,
    money_minor bigint NOT NULL DEFAULT 0,
    source      text NOT NULL DEFAULT '',
    medium      text NOT NULL DEFAULT '',
    by_campaign text NOT NULL DEFAULT ''
);
CREATE INDEX footprints_campaign ON footprints (campaign_id);
CREATE INDEX footprints_edition ON footprints (edition_id);

-- To which step of a fork a visitor was assigned.
CREATE TABLE assignments (
    route_id text NOT NULL,
    visitor  text NOT NULL,
    to_step  text NOT NULL,
    at       timestamptz NOT NULL,
    PRIMARY KEY (route_id, visitor)
);
CREATE INDEX assignments_visitor ON assignments (visitor);

-- Which browsers are one person, as far as they said so.
CREATE TABLE visitor_emails (
    visitor text NOT NULL,
    email   text NOT NULL,
    at      timestamptz NOT NULL,
    PRIMARY KEY (visitor, email)
);
CREATE INDEX visitor_emails_email ON visitor_emails (email);

-- Links that lead in, by name, counted.
CREATE TABLE links (
    id          text PRIMARY KEY,
    campaign_id text NOT NULL REFERENCES campaigns ON DELETE CASCADE,
    name        text NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
    slug        text NOT NULL UNIQUE CHECK (slug ~ '^[a-z0-9]+(-[a-z0-9]+)*$'),
    source      text NOT NULL,
    medium      text NOT NULL DEFAULT '',
    by_campaign text NOT NULL DEFAULT '',
    step_id     text REFERENCES steps ON DELETE CASCADE,
    route_id    text REFERENCES routes ON DELETE CASCADE, -- a fork: each visitor to their share
    clicks      bigint NOT NULL DEFAULT 0,
    created_at  timestamptz NOT NULL,
    CHECK ((step_id IS NULL) <> (route_id IS NULL))
);
CREATE INDEX links_campaign ON links (campaign_id);
CREATE INDEX links_step ON links (step_id);
CREATE INDEX links_route ON links (route_id);
CREATE TABLE link_clicks (
    link_id text NOT NULL REFERENCES links ON DELETE CASCADE,
    visitor text NOT NULL,
    at      timestamptz NOT NULL,
    PRIMARY KEY (link_id, visitor)
);

ALTER TABLE store ADD COLUMN left_minutes integer NOT NULL DEFAULT 60 CHECK (left_minutes BETWEEN 5 AND 1440),
    ADD COLUMN outside_hosts text NOT NULL DEFAULT '' CHECK (length(outside_hosts) <= 4000);
ALTER TABLE events ADD COLUMN name text NOT NULL DEFAULT '', ADD COLUMN to_step text NOT NULL DEFAULT '', ADD COLUMN source text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE events DROP COLUMN name, DROP COLUMN to_step, DROP COLUMN source;
DELETE FROM events WHERE kind <> 'view';
ALTER TABLE store DROP COLUMN left_minutes, DROP COLUMN outside_hosts;
DROP TABLE link_clicks, links, visitor_emails, assignments, footprints, walk_hours, walk_outcomes, walk_steps, walks, map_changes;
CREATE TABLE former_routes (
    from_step text NOT NULL REFERENCES steps ON DELETE CASCADE,
    outcome   text NOT NULL CHECK (outcome IN ('bought', 'accepted', 'declined')),
    to_step   text NOT NULL REFERENCES steps ON DELETE CASCADE,
    PRIMARY KEY (from_step, outcome)
);
DELETE FROM steps WHERE kind NOT IN ('sales', 'upsell', 'downsell', 'thank_you');
INSERT INTO former_routes SELECT DISTINCT ON (r.from_step, r.outcome) r.from_step, r.outcome, t.to_step
FROM routes r JOIN route_targets t ON t.route_id = r.id WHERE r.outcome IN ('bought', 'accepted', 'declined') ORDER BY r.from_step, r.outcome, r.position DESC, t.position;
DROP TABLE route_targets, routes;
ALTER TABLE former_routes RENAME TO routes;
ALTER INDEX former_routes_pkey RENAME TO routes_pkey;
CREATE INDEX routes_to ON routes (to_step);
DROP INDEX steps_of_page;
DELETE FROM steps s USING pages p WHERE p.id = s.page_id AND p.campaign_id <> s.campaign_id;
ALTER TABLE steps DROP CONSTRAINT steps_kind, DROP CONSTRAINT steps_page, DROP CONSTRAINT steps_outside,
    DROP COLUMN name, DROP COLUMN address, DROP COLUMN file_id, DROP COLUMN aim, DROP COLUMN dx, DROP COLUMN dy;
UPDATE steps SET kind = 'upsell' WHERE kind = 'downsell';
ALTER TABLE steps ALTER COLUMN page_id SET NOT NULL, ADD UNIQUE (page_id), ADD CHECK (kind IN ('sales', 'upsell', 'thank_you'));
