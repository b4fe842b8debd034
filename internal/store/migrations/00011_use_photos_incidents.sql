-- +goose Up
ALTER TABLE items ADD COLUMN lot text NOT NULL DEFAULT '' CHECK (length(lot) <= 80), ADD COLUMN harsh_months int CHECK (harsh_months BETWEEN 1 AND 60);

-- Pictures that records name by a sum over them. They are small: devices scale them down.
CREATE TABLE photos (
    team_id uuid        NOT NULL REFERENCES teams,
    sum     bytea       NOT NULL CHECK (length(sum) = 32),
    type    text        NOT NULL CHECK (type IN ('image/jpeg', 'image/webp')),
    body    bytea       NOT NULL CHECK (length(body) BETWEEN 1 AND 200000 AND sha256(body) = sum),
    by_id   uuid        NOT NULL,
    at      timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (team_id, sum)
);

-- The last day on which somebody from outside may be in a team.
ALTER TABLE memberships ADD COLUMN until date;
ALTER TABLE invitations ADD COLUMN until date;

-- A joint is on both ropes; an incident is about all that was kept with it, which lists leave out.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION subjects_of(content json) RETURNS TABLE (kind text, id text) LANGUAGE sql IMMUTABLE AS $$
    SELECT s.kind, s.id FROM (VALUES
        ('drop', content ->> 'drop'), ('item', content ->> 'item'), ('item', content #>> '{check,rope}'), ('item', content #>> '{cut,into}'), ('item', content #>> '{rope,with}'),
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
    SELECT 'item', i ->> 'id' FROM json_array_elements(content #> '{frozen,items}') i
    UNION
    SELECT 'person', p ->> 'id' FROM json_array_elements(content #> '{frozen,people}') p
    UNION
    SELECT r ->> 'kind', r ->> 'id' FROM json_array_elements(content #> '{change,rows}') r
$$;

CREATE OR REPLACE FUNCTION listed_content(content json, subject_kind text, subject_id text) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT CASE WHEN content #> '{change,rows}' IS NULL THEN (content::jsonb #- '{plan,document}') - 'frozen'
    ELSE jsonb_set(content::jsonb, '{change,rows}', coalesce((
        SELECT jsonb_agg(r.value ORDER BY r.ordinality) FROM jsonb_array_elements(content::jsonb #> '{change,rows}') WITH ORDINALITY r
        WHERE CASE WHEN subject_kind = '' THEN r.ordinality <= 20 ELSE r.value ->> 'kind' = subject_kind AND r.value ->> 'id' = subject_id END), '[]')) END
$$;
-- +goose StatementEnd

-- +goose Down
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION listed_content(content json, subject_kind text, subject_id text) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT CASE WHEN content #> '{change,rows}' IS NULL THEN content::jsonb #- '{plan,document}'
    ELSE jsonb_set(content::jsonb, '{change,rows}', coalesce((
        SELECT jsonb_agg(r.value ORDER BY r.ordinality) FROM jsonb_array_elements(content::jsonb #> '{change,rows}') WITH ORDINALITY r
        WHERE CASE WHEN subject_kind = '' THEN r.ordinality <= 20 ELSE r.value ->> 'kind' = subject_kind AND r.value ->> 'id' = subject_id END), '[]')) END
$$;

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
ALTER TABLE invitations DROP COLUMN until;
ALTER TABLE memberships DROP COLUMN until;
DROP TABLE photos;
ALTER TABLE items DROP COLUMN harsh_months, DROP COLUMN lot;
