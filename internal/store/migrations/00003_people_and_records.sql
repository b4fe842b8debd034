-- +goose Up
-- Who signs in. A person may be in several teams, with other roles in each.
CREATE TABLE accounts (
    id            uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    login         text NOT NULL UNIQUE CHECK (login ~ '^[a-z0-9][a-z0-9._@+-]{1,79}$'),
    name          text NOT NULL CHECK (btrim(name) <> '' AND length(name) <= 80),
    password_hash text NOT NULL CHECK (password_hash LIKE '$argon2id$%'),
    demo          boolean NOT NULL DEFAULT false, -- its password is known; only the demo lets it in
    made_at       timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE memberships (
    account_id uuid NOT NULL REFERENCES accounts,
    team_id    uuid NOT NULL REFERENCES teams,
    person_id  text, -- who on the team's drops this is
    roles      text[] NOT NULL CHECK (cardinality(roles) > 0 AND roles <@ ARRAY['technician', 'supervisor', 'store-keeper', 'trainer', 'reader']),
    made_at    timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (account_id, team_id),
    UNIQUE (team_id, person_id),
    FOREIGN KEY (team_id, person_id) REFERENCES people (team_id, id)
);

-- One row for each device somebody is signed in on; ended here, it is ended everywhere.
CREATE TABLE sign_ins (
    id         uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    account_id uuid NOT NULL REFERENCES accounts,
    team_id    uuid NOT NULL REFERENCES teams,
    device     text NOT NULL CHECK (length(device) <= 200),
    made_at    timestamptz NOT NULL DEFAULT now(),
    seen_at    timestamptz NOT NULL DEFAULT now(),
    ended_at   timestamptz
);
CREATE INDEX ON sign_ins (account_id) WHERE ended_at IS NULL;

-- Kept by the session library: a cookie's hash, and which sign-in it belongs to.
CREATE TABLE sessions (
    token  text PRIMARY KEY,
    data   bytea NOT NULL,
    expiry timestamptz NOT NULL
);
CREATE INDEX ON sessions (expiry);

-- Failed and running attempts to sign in, by what is being guessed at and from where.
CREATE TABLE attempts (
    key text NOT NULL,
    at  timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX ON attempts (key, at);
CREATE INDEX ON attempts (at);

CREATE TABLE invitations (
    id         uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    team_id    uuid NOT NULL REFERENCES teams,
    token_hash bytea NOT NULL UNIQUE CHECK (length(token_hash) = 32),
    name       text NOT NULL CHECK (btrim(name) <> '' AND length(name) <= 80),
    person_id  text,
    roles      text[] NOT NULL CHECK (cardinality(roles) > 0 AND roles <@ ARRAY['technician', 'supervisor', 'store-keeper', 'trainer', 'reader']),
    made_by    text NOT NULL,
    made_at    timestamptz NOT NULL DEFAULT now(),
    ends_at    timestamptz NOT NULL,
    taken_by   uuid REFERENCES accounts,
    FOREIGN KEY (team_id, person_id) REFERENCES people (team_id, id)
);

-- Records stand: each is sealed over the one before it, and only added. What is
-- searched for is made from the sealed content by the database itself.
CREATE TABLE records (
    team_id   uuid   NOT NULL REFERENCES teams,
    number    bigint NOT NULL CHECK (number > 0),
    id        uuid   NOT NULL,
    kind      text   NOT NULL,
    by_id     uuid   NOT NULL,
    by_name   text   NOT NULL,
    at        timestamptz NOT NULL,
    content   json   NOT NULL,
    seal      bytea  NOT NULL CHECK (length(seal) = 32),
    day       text GENERATED ALWAYS AS (content ->> 'day') STORED,
    drop_id   text GENERATED ALWAYS AS (content ->> 'drop') STORED,
    item_id   text GENERATED ALWAYS AS (content ->> 'item') STORED,
    person_id text GENERATED ALWAYS AS (content ->> 'person') STORED,
    corrects  text GENERATED ALWAYS AS (content ->> 'corrects') STORED,
    PRIMARY KEY (team_id, number),
    UNIQUE (team_id, id)
);
CREATE INDEX records_of_day ON records (team_id, day, number);
CREATE INDEX records_of_item ON records (team_id, item_id, number) WHERE item_id IS NOT NULL;
CREATE INDEX records_of_person ON records (team_id, person_id, number) WHERE person_id IS NOT NULL;
CREATE INDEX records_by ON records (team_id, by_id, number);
CREATE INDEX plan_states ON records (team_id, drop_id, number) WHERE kind = 'plan-state';
CREATE UNIQUE INDEX corrected_once ON records (team_id, corrects) WHERE corrects IS NOT NULL;

-- Records as they are listed: without the document that a plan state holds.
CREATE VIEW record_lines AS
SELECT r.team_id, r.number, r.id, r.kind, r.by_id, r.by_name, r.at, (r.content::jsonb #- '{plan,document}')::jsonb AS content, r.seal,
    r.day, r.drop_id, r.item_id, r.person_id,
    coalesce((SELECT c.number FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text), 0)::bigint AS corrected_by
FROM records r;

-- The last record of each team, so that a missing end shows.
CREATE TABLE chains (
    team_id uuid PRIMARY KEY REFERENCES teams,
    number  bigint NOT NULL,
    seal    bytea NOT NULL
);

-- +goose StatementBegin
CREATE FUNCTION chain_grows() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
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
-- +goose StatementEnd
CREATE TRIGGER chain_grows BEFORE INSERT ON records FOR EACH ROW EXECUTE FUNCTION chain_grows();

-- +goose StatementBegin
CREATE FUNCTION records_stand() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'records are neither changed nor removed; a correction is a new record' USING ERRCODE = 'insufficient_privilege';
END $$;
-- +goose StatementEnd
CREATE TRIGGER records_stand BEFORE UPDATE OR DELETE ON records FOR EACH ROW EXECUTE FUNCTION records_stand();
CREATE TRIGGER records_stay BEFORE TRUNCATE ON records FOR EACH STATEMENT EXECUTE FUNCTION records_stand();

-- Quarantine is left with a record, written in the same transaction.
-- +goose StatementBegin
CREATE FUNCTION quarantine_is_left_with_a_record() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF OLD.state = 'quarantine' AND NEW.state = 'in-service' AND NOT EXISTS (
        SELECT FROM records r WHERE r.team_id = OLD.team_id AND r.item_id = OLD.id AND r.kind = 'back-in-service' AND r.xmin = pg_current_xact_id()::xid
    ) THEN
        RAISE EXCEPTION 'item % is in quarantine', OLD.id USING ERRCODE = 'check_violation', CONSTRAINT = 'quarantine_is_left_with_a_record';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER quarantine_is_left_with_a_record BEFORE UPDATE ON items FOR EACH ROW EXECUTE FUNCTION quarantine_is_left_with_a_record();

-- +goose Down
DROP TRIGGER quarantine_is_left_with_a_record ON items;
DROP VIEW record_lines;
DROP TABLE chains, records, invitations, attempts, sessions, sign_ins, memberships, accounts;
DROP FUNCTION chain_grows, records_stand, quarantine_is_left_with_a_record;
