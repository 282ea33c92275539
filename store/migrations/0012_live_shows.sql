-- +goose Up
-- What each live page sells and shows, so that links to goods, cards of groups
-- and appointments find the page that is live, and not a draft of one.
CREATE TABLE live_shows (
    address text NOT NULL REFERENCES live_pages ON DELETE CASCADE ON UPDATE CASCADE,
    what    text NOT NULL CHECK (what IN ('checkout', 'product', 'shelf', 'appointment')),
    ref     text NOT NULL, -- of the goods or the shelf; '' for appointments
    PRIMARY KEY (what, ref, address)
);
CREATE INDEX live_shows_address ON live_shows (address);

-- +goose StatementBegin
CREATE FUNCTION note_shows(page live_pages) RETURNS void LANGUAGE sql AS $$
    INSERT INTO live_shows (address, what, ref)
    SELECT DISTINCT page.address, piece->>'kind',
        CASE piece->>'kind' WHEN 'appointment' THEN '' ELSE coalesce(piece->'fields'->>'product', piece->'fields'->>'shelf', '') END
    FROM campaigns c JOIN editions e ON e.id = c.live_edition_id,
        jsonb_array_elements(e.content->'pages') AS one,
        jsonb_path_query(one, '$.manuscript.bands[*].columns[*].pieces[*]') AS piece
    WHERE c.id = page.campaign_id AND one->>'id' = page.page_id AND piece->>'kind' IN ('checkout', 'product', 'shelf', 'appointment')
    ON CONFLICT DO NOTHING
$$;
CREATE FUNCTION live_page_shows() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM note_shows(NEW);
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER live_page_shows AFTER INSERT ON live_pages FOR EACH ROW EXECUTE FUNCTION live_page_shows();
SELECT note_shows(l) FROM live_pages l;

-- +goose Down
DROP TRIGGER live_page_shows ON live_pages;
DROP FUNCTION live_page_shows();
DROP FUNCTION note_shows(live_pages);
DROP TABLE live_shows;
