-- +goose Up
CREATE TABLE book.bookings (
    key     text PRIMARY KEY,
    at      timestamptz NOT NULL,
    ends    timestamptz NOT NULL CHECK (ends > at),
    name    text NOT NULL,
    email   text NOT NULL,
    subject text NOT NULL,
    -- One thing at a time: no two may share a moment.
    EXCLUDE USING gist (tstzrange(at, ends) WITH &&)
);

-- +goose Down
DROP TABLE book.bookings;
