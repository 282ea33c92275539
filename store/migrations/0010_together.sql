-- +goose Up
-- What repeats a change that was taken back: as it stood by then, with what
-- others had written in it.
ALTER TABLE changes ADD COLUMN again jsonb;
-- Everybody's own changes are taken back by themselves.
CREATE INDEX changes_own ON changes (page_id, user_id, undone, seq);

-- Whoever has a page open hears of every change of it.
-- +goose StatementBegin
CREATE FUNCTION tell_page() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('chrysagon', 'page:' || NEW.id || ':' || NEW.revision);
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER tell_page AFTER UPDATE ON pages FOR EACH ROW EXECUTE FUNCTION tell_page();

-- +goose Down
DROP TRIGGER tell_page ON pages;
DROP FUNCTION tell_page();
DROP INDEX changes_own;
ALTER TABLE changes DROP COLUMN again;
