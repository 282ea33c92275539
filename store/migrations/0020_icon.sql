-- +goose Up
-- The picture that browsers show in the tabs of the shop.
ALTER TABLE store ADD COLUMN icon_id text REFERENCES pictures;
CREATE INDEX store_icon ON store (icon_id);

-- +goose Down
ALTER TABLE store DROP COLUMN icon_id;
