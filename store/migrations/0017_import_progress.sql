-- +goose Up
-- How far an import is stands beside it and not in it: the import's own row is
-- locked while its rows become goods, and any program on this database may be asked.
CREATE TABLE import_progress (
    import_id text PRIMARY KEY REFERENCES imports ON DELETE CASCADE,
    step      text NOT NULL,
    total     bigint NOT NULL DEFAULT 0 CHECK (total >= 0),
    done      bigint NOT NULL DEFAULT 0 CHECK (done >= 0),
    failed    text NOT NULL DEFAULT '',
    at        timestamptz NOT NULL
);

-- +goose Down
DROP TABLE import_progress;
