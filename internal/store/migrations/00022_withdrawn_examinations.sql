-- +goose Up
-- Who checked an item after an event.
ALTER TABLE item_events ADD COLUMN checked_by text NOT NULL DEFAULT '' CHECK (length(checked_by) <= 80),
    ADD CONSTRAINT checked_by_somebody_on_a_day CHECK (checked_by = '' OR checked_on IS NOT NULL);

-- An examination that is withdrawn counts no more, in quarantine too. A setting that nobody
-- made is null, and so was what was compared with it: a rope in quarantine could be shortened
-- by a table.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION stopped_stays_as_it_is() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state <> 'in-service' AND to_jsonb(OLD) - '{state,reason,place,revision}'::text[] <> to_jsonb(NEW) - '{state,reason,place,revision}'::text[]
        AND NOT (OLD.state = 'quarantine' AND NEW.length_m < OLD.length_m AND coalesce(current_setting('knot.cutting', true), '') = OLD.id
            AND to_jsonb(OLD) - '{length_m,revision}'::text[] = to_jsonb(NEW) - '{length_m,revision}'::text[])
        AND NOT (OLD.state = 'quarantine' AND coalesce(current_setting('knot.withdrawing', true), '') = OLD.id
            AND to_jsonb(OLD) - '{examined_on,again_by,revision}'::text[] = to_jsonb(NEW) - '{examined_on,again_by,revision}'::text[]) THEN
        RAISE EXCEPTION 'item % is out of service', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'stopped_stays_as_it_is';
    END IF;
    RETURN NEW;
END $$;

CREATE OR REPLACE FUNCTION cut_rope(team uuid, rope text, at double precision, part text, called text) RETURNS void
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
    INSERT INTO item_events (team_id, item_id, number, kind, happened, checked_on, checked_by, note, person_in)
    SELECT e.team_id, part, e.number, e.kind, e.happened, e.checked_on, e.checked_by, e.note, e.person_in
    FROM item_events e WHERE e.team_id = team AND e.item_id = rope;
END $$;
-- +goose StatementEnd

-- +goose Down
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

CREATE OR REPLACE FUNCTION cut_rope(team uuid, rope text, at double precision, part text, called text) RETURNS void
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
ALTER TABLE item_events DROP COLUMN checked_by;
