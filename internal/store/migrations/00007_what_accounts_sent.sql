-- +goose Up
-- How many records each account may still send at once; every instance of the program asks
-- here. It may be lost: then everybody may send as at first.
CREATE UNLOGGED TABLE sent (
    account_id uuid PRIMARY KEY,
    allowance  double precision NOT NULL,
    at         timestamptz NOT NULL DEFAULT clock_timestamp()
);

-- +goose Down
DROP TABLE sent;
