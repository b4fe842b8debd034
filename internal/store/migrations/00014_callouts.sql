-- +goose Up
-- What a team knows of sites before anybody calls from them.
CREATE TABLE preplans (
    team_id         uuid        NOT NULL REFERENCES teams,
    id              text        NOT NULL CHECK (length(id) BETWEEN 1 AND 64),
    version         int         NOT NULL DEFAULT 1 CHECK (version > 0),
    document        jsonb       NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    changed_at      timestamptz NOT NULL DEFAULT now(),
    changed_by_name text        NOT NULL DEFAULT '' CHECK (length(changed_by_name) <= 80),
    PRIMARY KEY (team_id, id)
);

-- Callouts while they run; once one is put away its run is what happened, and it stays.
CREATE TABLE callouts (
    team_id         uuid        NOT NULL REFERENCES teams,
    id              uuid        NOT NULL,
    document        jsonb       NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    changed_at      timestamptz NOT NULL DEFAULT now(),
    changed_by_name text        NOT NULL DEFAULT '' CHECK (length(changed_by_name) <= 80),
    run_id          uuid,
    PRIMARY KEY (team_id, id),
    FOREIGN KEY (team_id, run_id) REFERENCES runs (team_id, id)
);
CREATE INDEX callouts_by_time ON callouts (team_id, changed_at);

-- +goose StatementBegin
CREATE FUNCTION callout_stays() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'DELETE' OR OLD.run_id IS NOT NULL THEN
        RAISE EXCEPTION 'a callout that is put away stays as it was' USING ERRCODE = 'check_violation';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER callout_stays BEFORE UPDATE OR DELETE ON callouts FOR EACH ROW EXECUTE FUNCTION callout_stays();

-- +goose Down
DROP TABLE callouts;
DROP FUNCTION callout_stays;
DROP TABLE preplans;
