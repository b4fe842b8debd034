-- +goose Up
-- What somebody hands out counts as long as they may: who leaves a team takes along the
-- invitations and the calendar's addresses that they made.

-- +goose StatementBegin
-- Whether somebody is in a team this day, with one of some roles.
CREATE FUNCTION still_may(account uuid, team uuid, wanted text[]) RETURNS boolean LANGUAGE sql STABLE AS $$
    SELECT EXISTS (SELECT FROM memberships m JOIN teams t ON t.id = m.team_id WHERE m.account_id = account AND m.team_id = team
        AND m.roles && wanted AND (m.until IS NULL OR m.until >= (now() AT TIME ZONE t.time_zone)::date))
$$;
-- +goose StatementEnd

-- Null is of the program's own commands.
ALTER TABLE invitations ADD COLUMN made_by_id uuid REFERENCES accounts;
ALTER TABLE feeds ADD COLUMN made_by_id uuid REFERENCES accounts;

-- Until now a name said who made them. Where no member of that name is known, they count no more.
UPDATE invitations i SET made_by_id = (SELECT a.id FROM accounts a JOIN memberships m ON m.account_id = a.id WHERE m.team_id = i.team_id AND a.name = i.made_by ORDER BY a.id LIMIT 1)
WHERE taken_by IS NULL;
DELETE FROM invitations WHERE taken_by IS NULL AND made_by_id IS NULL AND made_by <> 'the invite command';
UPDATE feeds f SET made_by_id = (SELECT a.id FROM accounts a JOIN memberships m ON m.account_id = a.id WHERE m.team_id = f.team_id AND a.name = f.made_by ORDER BY a.id LIMIT 1);
UPDATE feeds SET revoked_at = now() WHERE made_by_id IS NULL AND revoked_at IS NULL;

-- +goose Down
ALTER TABLE feeds DROP COLUMN made_by_id;
ALTER TABLE invitations DROP COLUMN made_by_id;
DROP FUNCTION still_may;
