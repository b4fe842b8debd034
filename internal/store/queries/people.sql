-- name: AddAccount :one
INSERT INTO accounts (login, name, password_hash, demo) VALUES ($1, $2, $3, $4)
ON CONFLICT (login) DO NOTHING
RETURNING id;

-- name: AccountByLogin :one
SELECT id, name, password_hash, demo FROM accounts WHERE login = $1;

-- name: AccountPassword :one
SELECT password_hash FROM accounts WHERE id = $1;

-- name: SetPassword :exec
UPDATE accounts SET password_hash = $2 WHERE id = $1;

-- name: SetPIN :exec
UPDATE accounts SET pin_hash = sqlc.narg(pin_hash) WHERE id = $1;

-- name: Partners :many
-- Who signs with a PIN on the device of somebody else.
SELECT a.id, a.name, m.roles FROM memberships m JOIN accounts a ON a.id = m.account_id
WHERE m.team_id = $1 AND a.pin_hash IS NOT NULL AND (m.until IS NULL OR m.until >= (now() AT TIME ZONE (SELECT t.time_zone FROM teams t WHERE t.id = m.team_id))::date) ORDER BY a.name, a.login;

-- name: Partner :one
SELECT a.id, a.name, a.demo, a.pin_hash, m.person_id, m.nobody_by, m.roles FROM memberships m JOIN accounts a ON a.id = m.account_id
WHERE m.team_id = $1 AND a.id = sqlc.arg(account)::uuid AND a.pin_hash IS NOT NULL
AND (m.until IS NULL OR m.until >= (now() AT TIME ZONE (SELECT t.time_zone FROM teams t WHERE t.id = m.team_id))::date);

-- name: AddMembership :exec
INSERT INTO memberships (account_id, team_id, person_id, roles, until) VALUES ($1, $2, $3, $4, sqlc.narg(until));

-- name: SetRoles :one
UPDATE memberships SET roles = $3, person_id = $4, until = sqlc.narg(until), nobody_by = CASE WHEN sqlc.narg(nobody_by)::text IS NOT NULL THEN coalesce(nobody_by, sqlc.narg(nobody_by)) END
WHERE account_id = $1 AND team_id = $2 RETURNING account_id;

-- name: LinkMember :one
UPDATE memberships m SET person_id = $3, nobody_by = NULL FROM accounts a
WHERE a.id = m.account_id AND a.login = $1 AND m.team_id = $2 RETURNING m.account_id;

-- name: RemoveMembership :one
DELETE FROM memberships WHERE account_id = $1 AND team_id = $2 RETURNING account_id;

-- name: Supervisors :one
-- Who is there for good: others leave by themselves.
SELECT count(*) FROM memberships WHERE team_id = $1 AND 'supervisor' = ANY (roles) AND until IS NULL;

-- name: Members :many
SELECT a.id, a.login, a.name, m.person_id, m.nobody_by, m.roles, m.until, m.revision FROM memberships m JOIN accounts a ON a.id = m.account_id
WHERE m.team_id = $1 ORDER BY a.name, a.login;

-- name: Member :one
SELECT a.id, a.login, a.name, m.person_id, m.nobody_by, m.roles, m.until, m.revision FROM memberships m JOIN accounts a ON a.id = m.account_id
WHERE m.team_id = $1 AND (m.account_id = sqlc.arg(account)::uuid OR a.login = sqlc.arg(login)::text);

-- name: TeamsOf :many
SELECT t.id, t.name, t.time_zone, m.roles FROM memberships m JOIN teams t ON t.id = m.team_id
WHERE m.account_id = $1 AND (m.until IS NULL OR m.until >= (now() AT TIME ZONE t.time_zone)::date) ORDER BY m.made_at, t.name;

-- name: AddSignIn :one
INSERT INTO sign_ins (account_id, team_id, device) VALUES ($1, $2, $3) RETURNING id;

-- name: SignedIn :one
SELECT s.id, s.seen_at, a.id AS account_id, a.name, a.demo, t.id AS team_id, t.name AS team_name, t.time_zone, m.person_id, m.nobody_by, m.roles
FROM sign_ins s
JOIN accounts a ON a.id = s.account_id
JOIN memberships m ON m.account_id = s.account_id AND m.team_id = s.team_id
JOIN teams t ON t.id = s.team_id
WHERE s.id = $1 AND s.ended_at IS NULL AND (m.until IS NULL OR m.until >= (now() AT TIME ZONE t.time_zone)::date);

-- name: Seen :exec
UPDATE sign_ins SET seen_at = now() WHERE id = $1;

-- name: SwitchTeam :one
UPDATE sign_ins s SET team_id = $2
WHERE s.id = $1 AND EXISTS (SELECT FROM memberships m JOIN teams t ON t.id = m.team_id WHERE m.account_id = s.account_id AND m.team_id = $2
    AND (m.until IS NULL OR m.until >= (now() AT TIME ZONE t.time_zone)::date))
RETURNING s.team_id;

-- name: SignIns :many
SELECT id, device, made_at, seen_at FROM sign_ins WHERE account_id = $1 AND ended_at IS NULL ORDER BY seen_at DESC LIMIT 100;

-- name: EndSignIn :one
UPDATE sign_ins SET ended_at = now() WHERE id = $1 AND account_id = $2 AND ended_at IS NULL RETURNING id;

-- name: EndOtherSignIns :exec
UPDATE sign_ins SET ended_at = now() WHERE account_id = $1 AND id <> $2 AND ended_at IS NULL;

-- name: AddAttempts :exec
INSERT INTO attempts (key) SELECT unnest(sqlc.arg(keys)::text[]);

-- name: Attempts :one
SELECT count(*), coalesce(extract(epoch FROM now() - max(at)), 0)::float8 AS ago FROM attempts WHERE key = $1 AND at > now() - interval '15 minutes';

-- name: KnowsDevice :one
SELECT EXISTS (SELECT FROM sign_ins WHERE account_id = $1 AND id = ANY(sqlc.arg(ids)::uuid[]));

-- name: ForgetAttempts :exec
DELETE FROM attempts WHERE key = $1;

-- name: ForgetOldAttempts :exec
DELETE FROM attempts WHERE at < now() - interval '1 hour';

-- name: AddInvitation :one
INSERT INTO invitations (team_id, token_hash, name, person_id, roles, made_by, made_by_id, until, ends_at)
VALUES ($1, $2, $3, $4, $5, $6, $7, sqlc.narg(until), now() + interval '7 days')
RETURNING id, ends_at;

-- name: Invitations :many
SELECT id, name, person_id, roles, made_by, made_at, until, ends_at FROM invitations
WHERE team_id = $1 AND taken_by IS NULL AND ends_at > now() AND (made_by_id IS NULL OR still_may(made_by_id, team_id, ARRAY['supervisor'])) ORDER BY made_at DESC LIMIT 200;

-- name: RemoveInvitation :one
DELETE FROM invitations WHERE team_id = $1 AND id = $2 AND taken_by IS NULL RETURNING id;

-- name: OpenInvitation :one
SELECT i.id, i.team_id, t.name AS team_name, i.name, i.person_id, i.roles, i.until FROM invitations i JOIN teams t ON t.id = i.team_id
WHERE i.token_hash = $1 AND i.taken_by IS NULL AND i.ends_at > now() AND (i.made_by_id IS NULL OR still_may(i.made_by_id, i.team_id, ARRAY['supervisor'])) FOR UPDATE OF i;

-- name: TakeInvitation :exec
UPDATE invitations SET taken_by = $2 WHERE id = $1;
