-- +goose Up
-- What the map of a rope says that whoever hangs it must know; null where nobody has looked yet.
ALTER TABLE items ADD COLUMN noted jsonb;

-- Records alone note it, also in quarantine.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION stopped_stays_as_it_is() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state <> 'in-service' AND to_jsonb(OLD) - '{state,reason,place,noted,revision}'::text[] <> to_jsonb(NEW) - '{state,reason,place,noted,revision}'::text[]
        AND NOT (OLD.state = 'quarantine' AND NEW.length_m < OLD.length_m AND coalesce(current_setting('knot.cutting', true), '') = OLD.id
            AND to_jsonb(OLD) - '{length_m,revision}'::text[] = to_jsonb(NEW) - '{length_m,revision}'::text[])
        AND NOT (OLD.state = 'quarantine' AND coalesce(current_setting('knot.withdrawing', true), '') = OLD.id
            AND to_jsonb(OLD) - '{examined_on,again_by,revision}'::text[] = to_jsonb(NEW) - '{examined_on,again_by,revision}'::text[]) THEN
        RAISE EXCEPTION 'item % is out of service', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'stopped_stays_as_it_is';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd

-- +goose Down
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
-- +goose StatementEnd
ALTER TABLE items DROP COLUMN noted;
