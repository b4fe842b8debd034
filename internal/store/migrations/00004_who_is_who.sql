-- +goose Up
-- Who a member is on the team's drops: a person, or nobody there, which another
-- supervisor says.
ALTER TABLE memberships ADD COLUMN nobody_by text CHECK (btrim(nobody_by) <> '');
ALTER TABLE memberships ADD CHECK (nobody_by IS NULL OR person_id IS NULL);

-- Who changed a drop last; unknown for what was changed before this was kept.
ALTER TABLE drops ADD COLUMN changed_by uuid, ADD COLUMN changed_by_name text;

-- +goose Down
ALTER TABLE drops DROP COLUMN changed_by, DROP COLUMN changed_by_name;
ALTER TABLE memberships DROP COLUMN nobody_by;
