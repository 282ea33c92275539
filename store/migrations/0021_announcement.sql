-- +goose Up
-- The piece that is called an announcement on screen is called so everywhere.
-- +goose StatementBegin
DO $$
DECLARE c record;
BEGIN
    FOR c IN SELECT * FROM (VALUES ('pages', 'manuscript'), ('templates', 'manuscript'), ('editions', 'content'), ('changes', 'command'), ('changes', 'inverse')) AS x (t, col) LOOP
        EXECUTE format($f$UPDATE %1$I SET %2$I = replace(%2$I::text, '"kind": "strip"', '"kind": "announcement"')::jsonb WHERE %2$I::text LIKE '%%"kind": "strip"%%'$f$, c.t, c.col);
    END LOOP;
END $$;
-- +goose StatementEnd

-- +goose Down
-- +goose StatementBegin
DO $$
DECLARE c record;
BEGIN
    FOR c IN SELECT * FROM (VALUES ('pages', 'manuscript'), ('templates', 'manuscript'), ('editions', 'content'), ('changes', 'command'), ('changes', 'inverse')) AS x (t, col) LOOP
        EXECUTE format($f$UPDATE %1$I SET %2$I = replace(%2$I::text, '"kind": "announcement"', '"kind": "strip"')::jsonb WHERE %2$I::text LIKE '%%"kind": "announcement"%%'$f$, c.t, c.col);
    END LOOP;
END $$;
-- +goose StatementEnd
