-- +goose Up
-- When an item last came out of quarantine: what was checked before counts no more.
CREATE INDEX returns_of_item ON records (team_id, item_id, number) WHERE kind = 'back-in-service';

-- +goose Down
DROP INDEX returns_of_item;
