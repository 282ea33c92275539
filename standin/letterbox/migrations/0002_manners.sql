-- +goose Up
-- By the Message-ID one sees whether a letter came twice.
ALTER TABLE letterbox.messages ADD COLUMN message_id text NOT NULL DEFAULT '';
CREATE INDEX messages_id ON letterbox.messages (message_id);

-- What is still to be sent back.
CREATE TABLE letterbox.reports (
    id       bigserial PRIMARY KEY,
    receiver text NOT NULL,
    raw      bytea NOT NULL
);

-- +goose Down
DROP TABLE letterbox.reports;
ALTER TABLE letterbox.messages DROP COLUMN message_id;
