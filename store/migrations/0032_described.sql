-- +goose Up
-- What is said of a product wherever it is shown by itself: copy with structure, as pages
-- have it.
ALTER TABLE products ADD COLUMN description text NOT NULL DEFAULT '' CHECK (char_length(description) <= 20000);
ALTER TABLE staged_goods ADD COLUMN description text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE staged_goods DROP COLUMN description;
ALTER TABLE products DROP COLUMN description;
