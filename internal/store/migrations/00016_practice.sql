-- +goose Up
-- What people practised, as the records say that stand.
CREATE TABLE practices (
    team_id   uuid NOT NULL REFERENCES teams,
    record_id uuid NOT NULL,
    person_id text NOT NULL,
    skill     text NOT NULL CHECK (length(skill) BETWEEN 1 AND 40),
    how       text NOT NULL CHECK (how IN ('run', 'ground', 'screen')),
    day       date NOT NULL,
    by_name   text NOT NULL CHECK (length(by_name) <= 80),
    PRIMARY KEY (team_id, record_id),
    FOREIGN KEY (team_id, person_id) REFERENCES people (team_id, id)
);
CREATE INDEX practices_of_person ON practices (team_id, person_id);

-- Exercises that a trainer gives to people.
CREATE TABLE classes (
    team_id         uuid        NOT NULL REFERENCES teams,
    id              uuid        NOT NULL,
    version         int         NOT NULL DEFAULT 1 CHECK (version > 0),
    document        jsonb       NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    changed_at      timestamptz NOT NULL DEFAULT now(),
    changed_by_name text        NOT NULL DEFAULT '' CHECK (length(changed_by_name) <= 80),
    PRIMARY KEY (team_id, id)
);

-- What was answered, and what it was worth: for oneself and the trainer alone, so apart from
-- the records. Exercise and answer are texts: the sum of the record is over them.
CREATE TABLE marks (
    team_id   uuid        NOT NULL REFERENCES teams,
    id        uuid        NOT NULL,
    by_id     uuid        NOT NULL,
    by_name   text        NOT NULL CHECK (length(by_name) <= 80),
    person_id text,
    class_id  uuid,
    listed    int         CHECK (listed >= 0),
    skill     text        NOT NULL DEFAULT '' CHECK (length(skill) <= 40),
    score     float8      NOT NULL CHECK (score BETWEEN 0 AND 1),
    exercise  text        NOT NULL,
    answer    text        NOT NULL,
    mark      text        NOT NULL,
    at        timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (team_id, id)
);
CREATE INDEX marks_by ON marks (team_id, by_id, at);
CREATE INDEX marks_of_class ON marks (team_id, class_id) WHERE class_id IS NOT NULL;

-- +goose Down
DROP TABLE marks;
DROP TABLE classes;
DROP TABLE practices;
