-- +goose Up
-- Font files of the store's own. The house says which are in use, what they are called and by
-- what licence; this keeps their content, by its hash.
CREATE TABLE types (
    id       text PRIMARY KEY CHECK (id ~ '^type-[0-9a-f]{16,32}$'),
    mime     text NOT NULL CHECK (mime IN ('font/woff2', 'font/woff', 'font/ttf', 'font/otf')),
    bytes    bytea NOT NULL CHECK (octet_length(bytes) BETWEEN 1 AND 2097152),
    added_at timestamptz NOT NULL
);

-- +goose Down
DROP TABLE types;
