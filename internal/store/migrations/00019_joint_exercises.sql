-- +goose Up
-- Exercises that several do together, each with a role; kept for a week. What they are worth is
-- each one's own mark.
CREATE TABLE joint_exercises (
    team_id    uuid        NOT NULL REFERENCES teams,
    id         uuid        NOT NULL,
    document   jsonb       NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    by_name    text        NOT NULL CHECK (length(by_name) <= 80),
    begun_at   timestamptz NOT NULL DEFAULT now(),
    changed_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (team_id, id)
);

-- +goose Down
DROP TABLE joint_exercises;
