-- +goose Up
-- How all pages look, and how they looked before the last change of that.
ALTER TABLE store
    ADD COLUMN house        jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(house) = 'object'),
    ADD COLUMN house_before jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(house_before) = 'object');
CREATE TRIGGER tell_house AFTER UPDATE OF house, phone ON store FOR EACH STATEMENT EXECUTE FUNCTION tell_facts();

-- What words on a picture must stand out from: its darkest and lightest places.
ALTER TABLE pictures
    ADD COLUMN dark  text NOT NULL DEFAULT '' CHECK (dark ~ '^(#[0-9a-f]{6})?$'),
    ADD COLUMN light text NOT NULL DEFAULT '' CHECK (light ~ '^(#[0-9a-f]{6})?$');

-- +goose Down
ALTER TABLE pictures DROP COLUMN light, DROP COLUMN dark;
DROP TRIGGER tell_house ON store;
ALTER TABLE store DROP COLUMN house_before, DROP COLUMN house;
