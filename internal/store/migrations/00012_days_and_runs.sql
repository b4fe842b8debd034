-- +goose Up
-- A team's days: which drops go out when, and the wind; who is on them stands in the drops.
CREATE TABLE boards (
    team_id         uuid        NOT NULL REFERENCES teams,
    day             date        NOT NULL,
    version         int         NOT NULL DEFAULT 1 CHECK (version > 0),
    document        jsonb       NOT NULL CHECK (jsonb_typeof(document) = 'object' AND document ->> 'day' = to_char(day, 'YYYY-MM-DD')),
    changed_at      timestamptz NOT NULL DEFAULT now(),
    changed_by_name text        NOT NULL DEFAULT '' CHECK (length(changed_by_name) <= 80),
    PRIMARY KEY (team_id, day)
);

-- Runs of released drops. The document is the run as it was made: whoever is on it, the moves,
-- and the plan's sum; the drop as it was released stands beside it.
CREATE TABLE runs (
    team_id  uuid        NOT NULL REFERENCES teams,
    id       uuid        NOT NULL,
    drop_id  text        NOT NULL CHECK (length(drop_id) <= 64),
    day      date        NOT NULL,
    document json        NOT NULL,
    released json        NOT NULL,
    sum      bytea       NOT NULL CHECK (length(sum) = 32 AND sha256(convert_to(released::text, 'UTF8')) = sum),
    phase    text        NOT NULL DEFAULT 'prepared' CHECK (phase IN ('prepared', 'running', 'ended', 'put away', 'closed')),
    by_id    uuid        NOT NULL,
    by_name  text        NOT NULL CHECK (length(by_name) BETWEEN 1 AND 80),
    at       timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (team_id, id)
);
CREATE INDEX runs_of_drop ON runs (team_id, drop_id, at);

-- What was given on a run, as it came; nothing of it is changed or removed.
CREATE TABLE run_events (
    team_id uuid        NOT NULL,
    run_id  uuid        NOT NULL,
    id      uuid        NOT NULL,
    content json        NOT NULL,
    by_id   uuid        NOT NULL,
    at      timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (team_id, run_id, id),
    FOREIGN KEY (team_id, run_id) REFERENCES runs (team_id, id)
);
CREATE TRIGGER events_stand BEFORE UPDATE OR DELETE ON run_events FOR EACH ROW EXECUTE FUNCTION records_stand();
CREATE TRIGGER events_stay BEFORE TRUNCATE ON run_events FOR EACH STATEMENT EXECUTE FUNCTION records_stand();

-- What a run is stays as it was made.
-- +goose StatementBegin
CREATE FUNCTION run_stays() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'DELETE' OR to_jsonb(OLD) - 'phase' <> to_jsonb(NEW) - 'phase' OR OLD.document::text <> NEW.document::text OR OLD.released::text <> NEW.released::text THEN
        RAISE EXCEPTION 'a run stays as it was made' USING ERRCODE = 'check_violation';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER run_stays BEFORE UPDATE OR DELETE ON runs FOR EACH ROW EXECUTE FUNCTION run_stays();

-- +goose Down
DROP TABLE run_events;
DROP TABLE runs;
DROP FUNCTION run_stays;
DROP TABLE boards;
