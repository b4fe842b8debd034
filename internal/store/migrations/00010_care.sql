-- +goose Up
-- The day by which an examiner wants an item again, and the code on its label.
ALTER TABLE items ADD COLUMN again_by date, ADD COLUMN code text;

-- A code is a number below 2^30, six symbols of 32, with a check symbol: the remainder by 37.
-- The number comes from the item's own name, and the next where that is taken: nobody has to
-- draw one.
-- +goose StatementBegin
CREATE FUNCTION code_of(n bigint) RETURNS text LANGUAGE sql IMMUTABLE AS $$
    SELECT string_agg(substr('0123456789ABCDEFGHJKMNPQRSTVWXYZ', (n >> (25 - 5 * i) & 31)::int + 1, 1), '' ORDER BY i)
        || substr('0123456789ABCDEFGHJKMNPQRSTVWXYZ*~$=U', (n % 37)::int + 1, 1)
    FROM generate_series(0, 5) i
$$;

CREATE FUNCTION free_code(team uuid, item text) RETURNS text LANGUAGE plpgsql STABLE AS $$
DECLARE
    n bigint;
BEGIN
    FOR try IN 0..1000 LOOP
        n := ('x' || substr(md5(team || '/' || item || '/' || try), 1, 8))::bit(32)::bigint & 1073741823;
        IF NOT EXISTS (SELECT FROM items i WHERE i.team_id = team AND i.code = code_of(n)) THEN
            RETURN code_of(n);
        END IF;
    END LOOP;
    RAISE EXCEPTION 'no code is free';
END $$;

-- A code is given once: whatever a row says of it, the first one stays.
CREATE FUNCTION code_stays() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'UPDATE' THEN
        NEW.code := OLD.code;
    ELSIF NEW.code IS NULL OR EXISTS (SELECT FROM items i WHERE i.team_id = NEW.team_id AND i.code = NEW.code) THEN
        NEW.code := free_code(NEW.team_id, NEW.id);
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
ALTER TABLE items DISABLE TRIGGER USER;
ALTER TABLE items ADD UNIQUE (team_id, code);
-- One by one: each has to see those before it.
-- +goose StatementBegin
DO $$
DECLARE
    i record;
BEGIN
    FOR i IN SELECT team_id, id FROM items ORDER BY team_id, id LOOP
        UPDATE items SET code = free_code(i.team_id, i.id) WHERE team_id = i.team_id AND id = i.id;
    END LOOP;
END $$;
-- +goose StatementEnd
ALTER TABLE items ENABLE TRIGGER USER;
ALTER TABLE items ALTER COLUMN code SET NOT NULL;
CREATE TRIGGER code_stays BEFORE INSERT OR UPDATE ON items FOR EACH ROW EXECUTE FUNCTION code_stays();

-- What was examined together is found by its session.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION subjects_of(content json) RETURNS TABLE (kind text, id text) LANGUAGE sql IMMUTABLE AS $$
    SELECT s.kind, s.id FROM (VALUES
        ('drop', content ->> 'drop'), ('item', content ->> 'item'), ('item', content #>> '{check,rope}'), ('item', content #>> '{cut,into}'),
        ('model', content #>> '{familiar,model}'), ('person', content ->> 'person'), ('kit', content #>> '{kit,kit}'),
        ('batch', content #>> '{examined,batch}'), ('model', content #>> '{recall,model}'),
        ('recall', CASE WHEN content ->> 'kind' IN ('recall', 'acknowledgement') THEN 'recall' END)) s (kind, id)
    WHERE s.id IS NOT NULL
    UNION
    SELECT 'item', i FROM json_array_elements_text(content #> '{kit,items}') i
    UNION
    SELECT 'item', i FROM json_array_elements_text(content -> 'missing') i
    UNION
    SELECT 'item', i FROM json_array_elements_text(content -> 'affected') i
    UNION
    SELECT r ->> 'kind', r ->> 'id' FROM json_array_elements(content #> '{change,rows}') r
$$;
-- +goose StatementEnd

-- A rope that is cut is shorter, in quarantine too: damage is cut out there. The part that is
-- cut off is as old as the rope, has had the same happen to it, and stands as it does; its
-- serial is the rope's with a letter behind it that no other has.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION stopped_stays_as_it_is() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state <> 'in-service' AND to_jsonb(OLD) - '{state,reason,place,revision}'::text[] <> to_jsonb(NEW) - '{state,reason,place,revision}'::text[]
        AND NOT (OLD.state = 'quarantine' AND NEW.length_m < OLD.length_m AND current_setting('knot.cutting', true) = OLD.id
            AND to_jsonb(OLD) - '{length_m,revision}'::text[] = to_jsonb(NEW) - '{length_m,revision}'::text[]) THEN
        RAISE EXCEPTION 'item % is out of service', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'stopped_stays_as_it_is';
    END IF;
    RETURN NEW;
END $$;

CREATE FUNCTION cut_rope(team uuid, rope text, at double precision, part text, called text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    r items;
    number text;
BEGIN
    SELECT * INTO STRICT r FROM items i WHERE i.team_id = team AND i.id = rope FOR UPDATE;
    IF at <= 0 OR at >= r.length_m THEN
        RAISE EXCEPTION 'rope % is % m long', rope, r.length_m USING ERRCODE = 'check_violation';
    END IF;
    PERFORM set_config('knot.cutting', rope, true);
    UPDATE items i SET length_m = at WHERE i.team_id = team AND i.id = rope;
    PERFORM set_config('knot.cutting', '', true);
    IF part = '' THEN
        RETURN;
    END IF;
    FOR n IN 1..1000 LOOP
        number := left(r.serial, 70) || '/B' || CASE n WHEN 1 THEN '' ELSE n::text END;
        EXIT WHEN NOT EXISTS (SELECT FROM serials s WHERE s.team_id = team AND s.model_id = r.model_id AND s.serial = number);
    END LOOP;
    r.id := part;
    r.label := called;
    r.serial := number;
    r.length_m := r.length_m - at;
    r.code := NULL;
    r.revision := 1;
    INSERT INTO items SELECT r.*;
    INSERT INTO item_events (team_id, item_id, number, kind, happened, checked_on, note, person_in)
    SELECT e.team_id, part, e.number, e.kind, e.happened, e.checked_on, e.note, e.person_in
    FROM item_events e WHERE e.team_id = team AND e.item_id = rope;
END $$;
-- +goose StatementEnd

-- Who was in an event: somebody else brings the item back.
ALTER TABLE item_events ADD COLUMN person_in text CHECK (length(person_in) <= 64);

-- Secret addresses at which a calendar is read without signing in; only a sum over the secret
-- is kept.
CREATE TABLE feeds (
    team_id    uuid        NOT NULL REFERENCES teams,
    id         uuid        NOT NULL,
    secret     bytea       NOT NULL UNIQUE CHECK (length(secret) = 32),
    made_by    text        NOT NULL CHECK (length(made_by) <= 80),
    made_at    timestamptz NOT NULL DEFAULT now(),
    revoked_at timestamptz,
    PRIMARY KEY (team_id, id)
);

-- +goose Down
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION stopped_stays_as_it_is() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state <> 'in-service' AND to_jsonb(OLD) - '{state,reason,place,revision}'::text[] <> to_jsonb(NEW) - '{state,reason,place,revision}'::text[] THEN
        RAISE EXCEPTION 'item % is out of service', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'stopped_stays_as_it_is';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
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
DROP TABLE feeds;
ALTER TABLE item_events DROP COLUMN person_in;
DROP TRIGGER code_stays ON items;
DROP FUNCTION cut_rope, code_stays, free_code, code_of;
ALTER TABLE items DROP COLUMN code, DROP COLUMN again_by;
