-- +goose Up
-- A serial names one item of its model for ever: an item that is given another serial
-- leaves the old one used. The function writes for whoever changes an item.
CREATE TABLE serials (
    team_id  uuid NOT NULL REFERENCES teams,
    model_id text NOT NULL,
    serial   text NOT NULL,
    item_id  text NOT NULL,
    PRIMARY KEY (team_id, model_id, serial)
);
INSERT INTO serials SELECT team_id, model_id, serial, id FROM items;

-- +goose StatementBegin
CREATE FUNCTION serial_is_used_once() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO serials VALUES (NEW.team_id, NEW.model_id, NEW.serial, NEW.id) ON CONFLICT DO NOTHING;
    IF NOT EXISTS (SELECT FROM serials s WHERE s.team_id = NEW.team_id AND s.model_id = NEW.model_id AND s.serial = NEW.serial AND s.item_id = NEW.id) THEN
        RAISE EXCEPTION 'serial % was another item''s', NEW.serial USING ERRCODE = 'unique_violation', CONSTRAINT = 'serial_is_used_once';
    END IF;
    RETURN NEW;
END $$;

-- What is out of service stays as it is, but for where it lies and its state and reason.
CREATE FUNCTION stopped_stays_as_it_is() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state <> 'in-service' AND to_jsonb(OLD) - 'state' - 'reason' - 'place' <> to_jsonb(NEW) - 'state' - 'reason' - 'place' THEN
        RAISE EXCEPTION 'item % is out of service', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'stopped_stays_as_it_is';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER serial_is_used_once BEFORE INSERT OR UPDATE OF model_id, serial ON items FOR EACH ROW EXECUTE FUNCTION serial_is_used_once();
CREATE TRIGGER stopped_stays_as_it_is BEFORE UPDATE ON items FOR EACH ROW EXECUTE FUNCTION stopped_stays_as_it_is();

-- +goose Down
DROP TRIGGER stopped_stays_as_it_is ON items;
DROP TRIGGER serial_is_used_once ON items;
DROP FUNCTION stopped_stays_as_it_is, serial_is_used_once;
DROP TABLE serials;
