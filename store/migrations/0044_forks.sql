-- Letters can hang on what one person sent, or left unfinished: found by their address.

-- +goose Up
CREATE INDEX leads_email ON leads (lower(email));
CREATE INDEX unfinished_email ON unfinished (lower(email)) WHERE email <> '';

-- +goose Down
DROP INDEX unfinished_email;
DROP INDEX leads_email;
