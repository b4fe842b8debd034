-- +goose Up
-- A kit is a named set with what belongs in it. Who has it, and what went out with it, comes
-- by records of issue and return.
CREATE TABLE kits (
    team_id   uuid   NOT NULL REFERENCES teams,
    id        text   NOT NULL CHECK (id ~ '^[a-z0-9][a-z0-9-]{0,63}$'),
    name      text   NOT NULL CHECK (btrim(name) <> '' AND length(name) <= 80),
    wanted    jsonb  NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(wanted) = 'array'),
    issued_to text   NOT NULL DEFAULT '' CHECK (length(issued_to) <= 80),
    issued_on date,
    went_out  text[] NOT NULL DEFAULT '{}',
    missing   text[] NOT NULL DEFAULT '{}',
    revision  int    NOT NULL DEFAULT 1 CHECK (revision > 0),
    PRIMARY KEY (team_id, id),
    UNIQUE (team_id, name),
    CONSTRAINT issued_on_a_day CHECK ((issued_to = '') = (issued_on IS NULL))
);
CREATE TRIGGER revision_grows BEFORE UPDATE ON kits FOR EACH ROW EXECUTE FUNCTION revision_grows();

-- What is in a kit bears its name: a kit that has things in it keeps its name.
-- +goose StatementBegin
CREATE FUNCTION kit_keeps_its_name() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.name <> NEW.name AND EXISTS (SELECT FROM items i WHERE i.team_id = OLD.team_id AND i.kit = OLD.name) THEN
        RAISE EXCEPTION 'things are in kit %: they bear its name', OLD.name USING ERRCODE = 'check_violation', CONSTRAINT = 'kit_keeps_its_name';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER kit_keeps_its_name BEFORE UPDATE OF name ON kits FOR EACH ROW EXECUTE FUNCTION kit_keeps_its_name();

-- The paper of an item that belongs to somebody who works with the team for a while.
ALTER TABLE items ADD COLUMN guest jsonb CHECK (jsonb_typeof(guest) = 'object');

-- +goose StatementBegin
CREATE OR REPLACE FUNCTION subjects_of(content json) RETURNS TABLE (kind text, id text) LANGUAGE sql IMMUTABLE AS $$
    SELECT s.kind, s.id FROM (VALUES
        ('drop', content ->> 'drop'), ('item', content ->> 'item'), ('item', content #>> '{check,rope}'),
        ('model', content #>> '{familiar,model}'), ('person', content ->> 'person'), ('kit', content #>> '{kit,kit}')) s (kind, id)
    WHERE s.id IS NOT NULL
    UNION
    SELECT 'item', i FROM json_array_elements_text(content #> '{kit,items}') i
    UNION
    SELECT 'item', i FROM json_array_elements_text(content -> 'missing') i
    UNION
    SELECT r ->> 'kind', r ->> 'id' FROM json_array_elements(content #> '{change,rows}') r
$$;
-- +goose StatementEnd

-- Serials that items had before the ones they have, for archives; the program may add to
-- them and take none away.
-- +goose StatementBegin
CREATE FUNCTION serials_of(team uuid) RETURNS TABLE (model_id text, serial text, item_id text)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.model_id, s.serial, s.item_id FROM serials s
    WHERE s.team_id = team AND NOT EXISTS (
        SELECT FROM items i WHERE i.team_id = team AND i.id = s.item_id AND i.model_id = s.model_id AND i.serial = s.serial)
$$;

CREATE FUNCTION serial_was_used(team uuid, model text, number text, item text) RETURNS void
LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    INSERT INTO serials VALUES (team, model, number, item) ON CONFLICT DO NOTHING
$$;
-- +goose StatementEnd

-- +goose Down
DROP FUNCTION serials_of, serial_was_used;
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION subjects_of(content json) RETURNS TABLE (kind text, id text) LANGUAGE sql IMMUTABLE AS $$
    SELECT s.kind, s.id FROM (VALUES
        ('drop', content ->> 'drop'), ('item', content ->> 'item'), ('item', content #>> '{check,rope}'),
        ('model', content #>> '{familiar,model}'), ('person', content ->> 'person')) s (kind, id)
    WHERE s.id IS NOT NULL
    UNION
    SELECT r ->> 'kind', r ->> 'id' FROM json_array_elements(content #> '{change,rows}') r
$$;
-- +goose StatementEnd
ALTER TABLE items DROP COLUMN guest;
DROP TABLE kits;
DROP FUNCTION kit_keeps_its_name;
