-- +goose Up
CREATE TABLE teams (
    id         uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    name       text NOT NULL UNIQUE CHECK (btrim(name) <> '' AND length(name) <= 80),
    created_at timestamptz NOT NULL DEFAULT now()
);

-- A model's figures are one document, read strictly by the core before it comes
-- here; what other rows depend on stands in columns.
CREATE TABLE models (
    team_id uuid  NOT NULL REFERENCES teams,
    id      text  NOT NULL CHECK (id ~ '^[a-z0-9][a-z0-9-]{0,63}$'),
    class   text  NOT NULL,
    body    jsonb NOT NULL,
    PRIMARY KEY (team_id, id),
    UNIQUE (team_id, id, class),
    CHECK (body ->> 'id' = id AND body ->> 'class' = class)
);

CREATE TABLE items (
    team_id       uuid NOT NULL,
    id            text NOT NULL CHECK (id ~ '^[a-z0-9][a-z0-9-]{0,63}$'),
    model_id      text NOT NULL,
    class         text NOT NULL,
    serial        text NOT NULL CHECK (btrim(serial) <> '' AND length(serial) <= 80),
    label         text NOT NULL CHECK (btrim(label) <> '' AND length(label) <= 80),
    state         text NOT NULL CHECK (state IN ('in-service', 'quarantine', 'retired')),
    reason        text NOT NULL DEFAULT '' CHECK (length(reason) <= 400),
    made_on       date,
    first_used_on date,
    examined_on   date,
    owner         text NOT NULL DEFAULT '',
    place         text NOT NULL DEFAULT '',
    kit           text NOT NULL DEFAULT '',
    length_m      double precision CHECK (length_m > 0 AND length_m <= 2000),
    measured_mm   double precision CHECK (measured_mm > 0 AND measured_mm <= 60),
    condition     text CHECK (condition IN ('dry', 'wet', 'muddy', 'icy', 'stiff', 'glazed')),
    PRIMARY KEY (team_id, id),
    UNIQUE (team_id, model_id, serial),
    FOREIGN KEY (team_id, model_id, class) REFERENCES models (team_id, id, class),
    CONSTRAINT out_of_service_has_a_reason CHECK (state = 'in-service' OR btrim(reason) <> ''),
    CONSTRAINT used_after_it_was_made CHECK (first_used_on >= made_on),
    CONSTRAINT rope_has_a_length CHECK ((class = 'rope') = (length_m IS NOT NULL)),
    CONSTRAINT only_ropes_are_measured CHECK (class = 'rope' OR (measured_mm IS NULL AND condition IS NULL))
);

-- +goose StatementBegin
CREATE FUNCTION retired_is_final() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state = 'retired' AND NEW.state <> 'retired' THEN
        RAISE EXCEPTION 'item % is retired, which is final', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'retired_is_final';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER retired_is_final BEFORE UPDATE ON items FOR EACH ROW EXECUTE FUNCTION retired_is_final();

CREATE TABLE item_events (
    team_id    uuid NOT NULL,
    item_id    text NOT NULL,
    number     int  NOT NULL CHECK (number > 0),
    kind       text NOT NULL CHECK (kind IN ('shock-load', 'dropped', 'heat', 'chemical', 'edge', 'failed-check', 'recall')),
    happened   date NOT NULL,
    checked_on date,
    note       text NOT NULL DEFAULT '' CHECK (length(note) <= 400),
    PRIMARY KEY (team_id, item_id, number),
    FOREIGN KEY (team_id, item_id) REFERENCES items (team_id, id),
    CONSTRAINT checked_after_it_happened CHECK (checked_on >= happened)
);

CREATE TABLE people (
    team_id    uuid NOT NULL REFERENCES teams,
    id         text NOT NULL CHECK (id ~ '^[a-z0-9][a-z0-9-]{0,63}$'),
    name       text NOT NULL CHECK (btrim(name) <> '' AND length(name) <= 80),
    mass_kg    double precision NOT NULL CHECK (mass_kg > 0 AND mass_kg <= 400),
    harness_id text,
    PRIMARY KEY (team_id, id),
    FOREIGN KEY (team_id, harness_id) REFERENCES items (team_id, id)
);

CREATE TABLE familiarisations (
    team_id   uuid NOT NULL,
    person_id text NOT NULL,
    model_id  text NOT NULL,
    shown_on  date NOT NULL,
    shown_by  text NOT NULL DEFAULT '' CHECK (length(shown_by) <= 80),
    PRIMARY KEY (team_id, person_id, model_id, shown_on),
    FOREIGN KEY (team_id, person_id) REFERENCES people (team_id, id),
    FOREIGN KEY (team_id, model_id) REFERENCES models (team_id, id)
);

CREATE TABLE drops (
    team_id    uuid  NOT NULL REFERENCES teams,
    id         text  NOT NULL CHECK (id ~ '^[a-z0-9][a-z0-9-]{0,63}$'),
    name       text  NOT NULL CHECK (btrim(name) <> ''),
    version    int   NOT NULL DEFAULT 1 CHECK (version > 0),
    document   jsonb NOT NULL,
    changed_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (team_id, id),
    CHECK (document ->> 'format' = 'drop' AND document ->> 'name' = name)
);

-- +goose Down
DROP TABLE drops, familiarisations, people, item_events, items, models, teams;
DROP FUNCTION retired_is_final;
