-- +goose Up
-- Every row that people change has a revision, one more at each change.
ALTER TABLE models ADD COLUMN revision int NOT NULL DEFAULT 1 CHECK (revision > 0);
ALTER TABLE items ADD COLUMN revision int NOT NULL DEFAULT 1 CHECK (revision > 0);
ALTER TABLE people ADD COLUMN revision int NOT NULL DEFAULT 1 CHECK (revision > 0);
ALTER TABLE memberships ADD COLUMN revision int NOT NULL DEFAULT 1 CHECK (revision > 0);

-- Whose day it is.
ALTER TABLE teams ADD COLUMN time_zone text NOT NULL DEFAULT 'UTC' CHECK (btrim(time_zone) <> '' AND length(time_zone) <= 60);

-- +goose StatementBegin
CREATE FUNCTION revision_grows() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    NEW.revision := OLD.revision + 1;
    RETURN NEW;
END $$;

CREATE OR REPLACE FUNCTION stopped_stays_as_it_is() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state <> 'in-service' AND to_jsonb(OLD) - '{state,reason,place,revision}'::text[] <> to_jsonb(NEW) - '{state,reason,place,revision}'::text[] THEN
        RAISE EXCEPTION 'item % is out of service', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'stopped_stays_as_it_is';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER revision_grows BEFORE UPDATE ON models FOR EACH ROW EXECUTE FUNCTION revision_grows();
CREATE TRIGGER revision_grows BEFORE UPDATE ON items FOR EACH ROW EXECUTE FUNCTION revision_grows();
CREATE TRIGGER revision_grows BEFORE UPDATE ON people FOR EACH ROW EXECUTE FUNCTION revision_grows();
CREATE TRIGGER revision_grows BEFORE UPDATE ON memberships FOR EACH ROW EXECUTE FUNCTION revision_grows();

-- What a record is about, made by the database from the sealed content. Records are not
-- removed, so that no foreign key needs to look after each.
CREATE TABLE record_subjects (
    team_id uuid   NOT NULL,
    number  bigint NOT NULL,
    kind    text   NOT NULL,
    id      text   NOT NULL,
    PRIMARY KEY (team_id, kind, id, number)
);
CREATE INDEX record_subjects_of ON record_subjects (team_id, number);

-- +goose StatementBegin
CREATE FUNCTION subjects_of(content json) RETURNS TABLE (kind text, id text) LANGUAGE sql IMMUTABLE AS $$
    SELECT s.kind, s.id FROM (VALUES
        ('drop', content ->> 'drop'), ('item', content ->> 'item'), ('item', content #>> '{check,rope}'),
        ('model', content #>> '{familiar,model}'), ('person', content ->> 'person')) s (kind, id)
    WHERE s.id IS NOT NULL
    UNION
    SELECT r ->> 'kind', r ->> 'id' FROM json_array_elements(content #> '{change,rows}') r
$$;

-- A row of a change is shown where a caller requests it; of one that changes much the first
-- rows alone.
CREATE FUNCTION listed_content(content json, subject_kind text, subject_id text) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT CASE WHEN content #> '{change,rows}' IS NULL THEN content::jsonb #- '{plan,document}'
    ELSE jsonb_set(content::jsonb, '{change,rows}', coalesce((
        SELECT jsonb_agg(r.value ORDER BY r.ordinality) FROM jsonb_array_elements(content::jsonb #> '{change,rows}') WITH ORDINALITY r
        WHERE CASE WHEN subject_kind = '' THEN r.ordinality <= 20 ELSE r.value ->> 'kind' = subject_kind AND r.value ->> 'id' = subject_id END), '[]')) END
$$;

-- The last record of a chain is noted by the database alone, and which transaction wrote
-- it. Records that come with a backup come together with the end of their chain.
CREATE OR REPLACE FUNCTION chain_grows() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    NEW.written_in := pg_current_xact_id();
    IF NEW.number = 1 AND NOT EXISTS (SELECT FROM chains WHERE team_id = NEW.team_id) THEN
        INSERT INTO chains (team_id, number, seal) VALUES (NEW.team_id, NEW.number, NEW.seal);
        RETURN NEW;
    END IF;
    UPDATE chains SET number = NEW.number, seal = NEW.seal WHERE team_id = NEW.team_id AND number = NEW.number - 1;
    IF NOT FOUND THEN
        RAISE EXCEPTION 'record % does not follow the last one', NEW.number USING ERRCODE = 'check_violation', CONSTRAINT = 'chain_grows',
            HINT = 'Data alone cannot be restored into tables that are there: use the restore command, into an empty database.';
    END IF;
    RETURN NEW;
END $$;

CREATE FUNCTION subjects_are_noted() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO record_subjects SELECT NEW.team_id, NEW.number, s.kind, s.id FROM subjects_of(NEW.content) s;
    RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION quarantine_is_left_with_a_record() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state = 'quarantine' AND NEW.state = 'in-service' AND NOT EXISTS (
        SELECT FROM records r WHERE r.team_id = OLD.team_id AND r.item_id = OLD.id AND r.kind = 'back-in-service'
        AND r.written_in = pg_current_xact_id() AND r.at > now() - interval '1 minute'
    ) THEN
        RAISE EXCEPTION 'item % is in quarantine', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'quarantine_is_left_with_a_record';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
ALTER TABLE records ADD COLUMN written_in xid8; -- null for what was written before this was kept
INSERT INTO record_subjects SELECT r.team_id, r.number, s.kind, s.id FROM records r CROSS JOIN LATERAL subjects_of(r.content) s;
CREATE TRIGGER subjects_are_noted AFTER INSERT ON records FOR EACH ROW EXECUTE FUNCTION subjects_are_noted();
CREATE TRIGGER subjects_stand BEFORE UPDATE OR DELETE ON record_subjects FOR EACH ROW EXECUTE FUNCTION records_stand();
CREATE TRIGGER subjects_stay BEFORE TRUNCATE ON record_subjects FOR EACH STATEMENT EXECUTE FUNCTION records_stand();

-- A view would be one more thing to compare with what was sealed.
DROP VIEW record_lines;

-- Every version of a drop that was saved, also of drops that were removed.
CREATE TABLE drop_versions (
    team_id         uuid  NOT NULL REFERENCES teams,
    drop_id         text  NOT NULL,
    version         int   NOT NULL CHECK (version > 0),
    name            text  NOT NULL,
    document        jsonb NOT NULL,
    changed_at      timestamptz NOT NULL,
    changed_by      uuid,
    changed_by_name text,
    PRIMARY KEY (team_id, drop_id, version)
);
INSERT INTO drop_versions SELECT team_id, id, version, name, document, changed_at, changed_by, changed_by_name FROM drops;

-- +goose StatementBegin
CREATE FUNCTION versions_are_kept() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO drop_versions VALUES (NEW.team_id, NEW.id, NEW.version, NEW.name, NEW.document, NEW.changed_at, NEW.changed_by, NEW.changed_by_name);
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER versions_are_kept AFTER INSERT OR UPDATE ON drops FOR EACH ROW EXECUTE FUNCTION versions_are_kept();

-- +goose Down
DROP TRIGGER versions_are_kept ON drops;
DROP FUNCTION versions_are_kept;
DROP TABLE drop_versions;
CREATE VIEW record_lines AS
SELECT r.team_id, r.number, r.id, r.kind, r.by_id, r.by_name, r.at, (r.content::jsonb #- '{plan,document}')::jsonb AS content, r.seal,
    r.day, r.drop_id, r.item_id, r.person_id,
    coalesce((SELECT c.number FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text), 0)::bigint AS corrected_by
FROM records r;
DROP TRIGGER subjects_are_noted ON records;
DROP TABLE record_subjects;
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION chain_grows() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    IF NEW.number = 1 THEN
        INSERT INTO chains (team_id, number, seal) VALUES (NEW.team_id, NEW.number, NEW.seal);
    ELSE
        UPDATE chains SET number = NEW.number, seal = NEW.seal WHERE team_id = NEW.team_id AND number = NEW.number - 1;
        IF NOT FOUND THEN
            RAISE EXCEPTION 'record % does not follow the last one', NEW.number USING ERRCODE = 'check_violation', CONSTRAINT = 'chain_grows';
        END IF;
    END IF;
    RETURN NEW;
END $$;

CREATE OR REPLACE FUNCTION quarantine_is_left_with_a_record() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state = 'quarantine' AND NEW.state = 'in-service' AND NOT EXISTS (
        SELECT FROM records r WHERE r.team_id = OLD.team_id AND r.item_id = OLD.id AND r.kind = 'back-in-service' AND r.xmin = pg_current_xact_id()::xid
    ) THEN
        RAISE EXCEPTION 'item % is in quarantine', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'quarantine_is_left_with_a_record';
    END IF;
    RETURN NEW;
END $$;

CREATE OR REPLACE FUNCTION stopped_stays_as_it_is() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state <> 'in-service' AND to_jsonb(OLD) - 'state' - 'reason' - 'place' <> to_jsonb(NEW) - 'state' - 'reason' - 'place' THEN
        RAISE EXCEPTION 'item % is out of service', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'stopped_stays_as_it_is';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
DROP FUNCTION subjects_are_noted, subjects_of, listed_content;
ALTER TABLE records DROP COLUMN written_in;
DROP TRIGGER revision_grows ON models;
DROP TRIGGER revision_grows ON items;
DROP TRIGGER revision_grows ON people;
DROP TRIGGER revision_grows ON memberships;
DROP FUNCTION revision_grows;
ALTER TABLE teams DROP COLUMN time_zone;
ALTER TABLE memberships DROP COLUMN revision;
ALTER TABLE people DROP COLUMN revision;
ALTER TABLE items DROP COLUMN revision;
ALTER TABLE models DROP COLUMN revision;
