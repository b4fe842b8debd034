-- +goose Up
-- What a team decided for itself: one document, read strictly by the core before
-- it comes here. A team without one uses what the program ships.
CREATE TABLE policies (
    team_id    uuid PRIMARY KEY REFERENCES teams,
    version    int  NOT NULL DEFAULT 1 CHECK (version > 0),
    body       jsonb NOT NULL CHECK (jsonb_typeof(body) = 'object'),
    changed_at timestamptz NOT NULL DEFAULT now()
);

-- +goose Down
DROP TABLE policies;
