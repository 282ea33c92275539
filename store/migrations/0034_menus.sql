-- +goose Up
-- What stands in the header and in the footer of pages, chosen and ordered by hand: lists of
-- {"text", "target"}. Where a list is empty, the header fills itself with the live pages.
ALTER TABLE store
    ADD COLUMN menu jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(menu) = 'array' AND jsonb_array_length(menu) <= 12),
    ADD COLUMN foot jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(foot) = 'array' AND jsonb_array_length(foot) <= 12);

-- +goose Down
ALTER TABLE store DROP COLUMN menu, DROP COLUMN foot;
