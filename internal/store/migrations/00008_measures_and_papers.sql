-- +goose Up
-- What is measured on a person, and what they hold: papers with the day they end.
ALTER TABLE people
    ADD COLUMN reach_up_m double precision CHECK (reach_up_m > 0 AND reach_up_m <= 2),
    ADD COLUMN reach_out_m double precision CHECK (reach_out_m > 0 AND reach_out_m <= 2),
    ADD COLUMN hand_mm double precision CHECK (hand_mm > 0 AND hand_mm <= 200),
    ADD COLUMN papers jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(papers) = 'array');

-- +goose Down
ALTER TABLE people DROP COLUMN papers, DROP COLUMN hand_mm, DROP COLUMN reach_out_m, DROP COLUMN reach_up_m;
