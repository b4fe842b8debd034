-- +goose Up
-- When an item last came back from quarantine, or a rope was cut: what was checked before
-- counts no more.
CREATE INDEX taken_off ON records (team_id, item_id, number) WHERE kind IN ('back-in-service', 'rope-cut');

-- +goose Down
DROP INDEX taken_off;
