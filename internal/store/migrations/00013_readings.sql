-- +goose Up
-- What devices may send readings for one run; of the secret only a sum is kept.
CREATE TABLE device_tokens (
    team_id    uuid        NOT NULL,
    run_id     uuid        NOT NULL,
    id         uuid        NOT NULL,
    name       text        NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
    secret     bytea       NOT NULL UNIQUE CHECK (length(secret) = 32),
    made_by    text        NOT NULL CHECK (length(made_by) <= 80),
    made_at    timestamptz NOT NULL DEFAULT now(),
    revoked_at timestamptz,
    PRIMARY KEY (team_id, id),
    FOREIGN KEY (team_id, run_id) REFERENCES runs (team_id, id)
);

-- Readings of a channel, many in a row: packed as differences. Rows of few are put together
-- as they become many.
CREATE TABLE readings (
    team_id uuid   NOT NULL,
    run_id  uuid   NOT NULL,
    channel text   NOT NULL CHECK (length(channel) BETWEEN 1 AND 80),
    number  bigint GENERATED ALWAYS AS IDENTITY,
    count   int    NOT NULL CHECK (count > 0),
    body    bytea  NOT NULL,
    PRIMARY KEY (team_id, run_id, channel, number),
    FOREIGN KEY (team_id, run_id) REFERENCES runs (team_id, id)
);

-- +goose Down
DROP TABLE readings;
DROP TABLE device_tokens;
