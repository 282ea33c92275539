-- +goose Up
-- An event is of a page, which may stand in no funnel. Which kinds there are is
-- app/events' to say; here is what a kind may look like.
ALTER TABLE events ADD COLUMN page_id text NOT NULL DEFAULT '';
UPDATE events e SET page_id = s.page_id FROM steps s WHERE s.id = e.step_id;
ALTER TABLE events ALTER COLUMN page_id DROP DEFAULT;
-- +goose StatementBegin
DO $$
DECLARE one text;
BEGIN
    FOR one IN SELECT conname FROM pg_constraint WHERE conrelid = 'events'::regclass AND contype = 'c' LOOP
        EXECUTE format('ALTER TABLE events DROP CONSTRAINT %I', one);
    END LOOP;
END $$;
-- +goose StatementEnd
ALTER TABLE events ADD CONSTRAINT events_kind CHECK (kind ~ '^[a-z]+(_[a-z]+)*$');
CREATE INDEX events_page ON events (page_id, at, visitor) WHERE step_id = '';

-- +goose Down
DROP INDEX events_page;
DELETE FROM events WHERE step_id = '' OR kind <> 'view';
ALTER TABLE events DROP CONSTRAINT events_kind, DROP COLUMN page_id;
ALTER TABLE events ADD CHECK (kind IN ('view'));
