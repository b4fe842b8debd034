-- +goose Up
-- What a bag was sealed with after its last check; it stands until the seal is broken, or the
-- bag is counted back.
ALTER TABLE kits ADD COLUMN seal jsonb CHECK (jsonb_typeof(seal) = 'object');

-- +goose Down
ALTER TABLE kits DROP COLUMN seal;
