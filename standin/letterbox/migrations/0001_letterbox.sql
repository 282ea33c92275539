-- +goose Up
CREATE TABLE letterbox.messages (
    id       bigserial PRIMARY KEY,
    sender   text NOT NULL,
    receiver text NOT NULL,
    subject  text NOT NULL,
    at       timestamptz NOT NULL,
    raw      bytea NOT NULL
);

-- +goose Down
DROP TABLE letterbox.messages;
