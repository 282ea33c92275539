-- +goose Up
-- A session is known by an ID that is no secret, ends when it is not used, and says
-- in which browser it is.
ALTER TABLE sessions
    ADD COLUMN id         text NOT NULL DEFAULT md5(random()::text || clock_timestamp()::text) UNIQUE,
    ADD COLUMN began_at   timestamptz NOT NULL DEFAULT now(),
    ADD COLUMN used_at    timestamptz NOT NULL DEFAULT now(),
    ADD COLUMN agent      text NOT NULL DEFAULT '';

-- Failures in a row, by account, by address and by browser.
CREATE TABLE sign_in_tries (
    key      text PRIMARY KEY,
    failures integer NOT NULL CHECK (failures > 0),
    last_at  timestamptz NOT NULL
);
CREATE INDEX sign_in_tries_last ON sign_in_tries (last_at);

-- Browsers that have signed in before: who guesses elsewhere does not make them wait.
CREATE TABLE known_browsers (
    token_hash bytea PRIMARY KEY,
    user_id    text NOT NULL REFERENCES users ON DELETE CASCADE,
    at         timestamptz NOT NULL
);
CREATE INDEX known_browsers_user ON known_browsers (user_id);

-- +goose Down
DROP TABLE known_browsers, sign_in_tries;
ALTER TABLE sessions DROP COLUMN id, DROP COLUMN began_at, DROP COLUMN used_at, DROP COLUMN agent;
