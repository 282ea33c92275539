-- +goose Up
-- People, by a sentence: a rule (package segment) with a name.
CREATE TABLE segments (
    id         text PRIMARY KEY,
    name       text NOT NULL UNIQUE CHECK (name <> '' AND char_length(name) <= 80),
    rule       jsonb NOT NULL CHECK (jsonb_typeof(rule) = 'object'),
    created_at timestamptz NOT NULL
);

-- +goose Down
DROP TABLE segments;
