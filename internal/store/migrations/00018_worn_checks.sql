-- +goose Up
-- A check of what somebody wears is about each thing that was looked at.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION subjects_of(content json) RETURNS TABLE (kind text, id text) LANGUAGE sql IMMUTABLE AS $$
    SELECT s.kind, s.id FROM (VALUES
        ('drop', content ->> 'drop'), ('item', content ->> 'item'), ('item', content #>> '{check,rope}'), ('item', content #>> '{cut,into}'), ('item', content #>> '{rope,with}'),
        ('model', content #>> '{familiar,model}'), ('person', content ->> 'person'), ('person', content #>> '{paper,by}'), ('kit', content #>> '{kit,kit}'),
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
    SELECT 'item', i ->> 'item' FROM json_array_elements(content #> '{worn,items}') i
    UNION
    SELECT 'person', p ->> 'id' FROM json_array_elements(content #> '{frozen,people}') p
    UNION
    SELECT r ->> 'kind', r ->> 'id' FROM json_array_elements(content #> '{change,rows}') r
$$;
-- +goose StatementEnd

-- +goose Down
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION subjects_of(content json) RETURNS TABLE (kind text, id text) LANGUAGE sql IMMUTABLE AS $$
    SELECT s.kind, s.id FROM (VALUES
        ('drop', content ->> 'drop'), ('item', content ->> 'item'), ('item', content #>> '{check,rope}'), ('item', content #>> '{cut,into}'), ('item', content #>> '{rope,with}'),
        ('model', content #>> '{familiar,model}'), ('person', content ->> 'person'), ('person', content #>> '{paper,by}'), ('kit', content #>> '{kit,kit}'),
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
-- +goose StatementEnd
