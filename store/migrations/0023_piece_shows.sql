-- +goose Up
-- What live pages show is noted by what the kinds of their pieces say of themselves, so
-- that a new kind needs no new trigger. The program writes its kinds here when it starts.
CREATE TABLE piece_shows (
    kind text PRIMARY KEY,
    what text NOT NULL CHECK (what IN ('checkout', 'product', 'shelf', 'appointment'))
);
INSERT INTO piece_shows VALUES ('checkout', 'checkout'), ('product', 'product'), ('shelf', 'shelf'), ('appointment', 'appointment');

-- +goose StatementBegin
CREATE OR REPLACE FUNCTION note_shows(page live_pages) RETURNS void LANGUAGE sql AS $$
    INSERT INTO live_shows (address, what, ref)
    SELECT DISTINCT page.address, s.what,
        CASE s.what WHEN 'appointment' THEN '' WHEN 'shelf' THEN coalesce(piece->'fields'->>'shelf', '') ELSE coalesce(piece->'fields'->>'product', '') END
    FROM campaigns c JOIN editions e ON e.id = c.live_edition_id,
        jsonb_array_elements(e.content->'pages') AS one,
        jsonb_path_query(one, '$.manuscript.bands[*].columns[*].pieces[*]') AS piece
        JOIN piece_shows s ON s.kind = piece->>'kind'
    WHERE c.id = page.campaign_id AND one->>'id' = page.page_id
    ON CONFLICT DO NOTHING
$$;
-- +goose StatementEnd

-- +goose Down
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION note_shows(page live_pages) RETURNS void LANGUAGE sql AS $$
    INSERT INTO live_shows (address, what, ref)
    SELECT DISTINCT page.address, piece->>'kind',
        CASE piece->>'kind' WHEN 'appointment' THEN '' ELSE coalesce(piece->'fields'->>'product', piece->'fields'->>'shelf', '') END
    FROM campaigns c JOIN editions e ON e.id = c.live_edition_id,
        jsonb_array_elements(e.content->'pages') AS one,
        jsonb_path_query(one, '$.manuscript.bands[*].columns[*].pieces[*]') AS piece
    WHERE c.id = page.campaign_id AND one->>'id' = page.page_id AND piece->>'kind' IN ('checkout', 'product', 'shelf', 'appointment')
    ON CONFLICT DO NOTHING
$$;
-- +goose StatementEnd
DROP TABLE piece_shows;
