-- +goose Up
ALTER TABLE items ADD COLUMN bought_on date, ADD COLUMN marking text NOT NULL DEFAULT '' CHECK (length(marking) <= 80);

-- +goose Down
ALTER TABLE items DROP COLUMN marking, DROP COLUMN bought_on;
