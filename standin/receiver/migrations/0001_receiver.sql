-- +goose Up
CREATE TABLE receiver.messages (
    id         bigserial PRIMARY KEY,
    path       text NOT NULL,
    message_id text NOT NULL,
    kind       text NOT NULL,
    head       text NOT NULL,                       -- what proves the sender, line by line
    body       text NOT NULL,
    status     integer NOT NULL,                    -- as it was answered
    at         timestamptz NOT NULL
);
CREATE INDEX messages_id ON receiver.messages (message_id);

-- +goose Down
DROP TABLE receiver.messages;
