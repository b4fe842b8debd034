-- name: LockChain :exec
SELECT pg_advisory_xact_lock(hashtextextended('records of ' || sqlc.arg(team)::uuid::text, 0));

-- name: ChainEnd :one
-- The end of a chain, number 0 before its first record, the server's time and the team's zone.
SELECT clock_timestamp()::timestamptz AS now, t.time_zone, coalesce(c.number, 0)::bigint AS number, c.seal FROM teams t LEFT JOIN chains c ON c.team_id = t.id WHERE t.id = $1;

-- name: AddRecords :batchexec
INSERT INTO records (team_id, number, id, kind, by_id, by_name, at, content, seal) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9);

-- name: RecordsByID :many
SELECT r.number, r.id, r.kind, r.by_id, r.content,
    EXISTS (SELECT FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text) AS corrected
FROM records r WHERE r.team_id = $1 AND r.id = ANY (sqlc.arg(ids)::uuid[]);

-- name: Frozen :one
-- What an incident was about, as it was then.
SELECT (content -> 'frozen')::text AS frozen FROM records WHERE team_id = $1 AND number = $2 AND content -> 'frozen' IS NOT NULL;

-- name: ChecksOfDays :many
SELECT r.id, r.kind, r.by_name, r.content FROM records r
WHERE r.team_id = $1 AND r.day = ANY (sqlc.arg(days)::text[]) AND r.kind IN ('function-check', 'partner-check', 'worn-check')
AND NOT EXISTS (SELECT FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text)
ORDER BY r.number;

-- name: TakenOff :many
-- When items came back into service, and ropes were cut.
SELECT r.id, r.content FROM records r
WHERE r.team_id = $1 AND r.kind IN ('back-in-service', 'rope-cut') AND r.item_id = ANY (sqlc.arg(ids)::text[])
ORDER BY r.number;

-- name: StopsOf :many
-- When items were put into quarantine, and came back, first ones first.
SELECT r.id, r.content FROM records r
WHERE r.team_id = $1 AND r.kind IN ('quarantine', 'back-in-service') AND r.item_id = ANY (sqlc.arg(ids)::text[])
ORDER BY r.number;

-- name: NoteItem :exec
UPDATE items SET noted = sqlc.narg(noted) WHERE team_id = $1 AND id = $2 AND noted IS DISTINCT FROM sqlc.narg(noted);

-- name: NotedRopes :many
-- Ropes of which something is noted or that were cut, of a team or of every one.
SELECT i.team_id, i.id, i.noted FROM items i WHERE i.class = 'rope' AND (sqlc.narg(team)::uuid IS NULL OR i.team_id = sqlc.narg(team)::uuid)
AND EXISTS (SELECT FROM record_subjects s JOIN records r ON r.team_id = s.team_id AND r.number = s.number
    WHERE s.team_id = i.team_id AND s.kind = 'item' AND s.id = i.id AND r.kind IN ('rope-note', 'rope-cut'))
ORDER BY i.team_id, i.id;

-- name: RecallsOf :many
-- Recalls of some models that stand, first ones first.
SELECT r.content FROM record_subjects s
JOIN records r ON r.team_id = s.team_id AND r.number = s.number
WHERE s.team_id = $1 AND s.kind = 'recall' AND s.id = 'recall' AND r.kind = 'recall'
AND r.content -> 'recall' ->> 'model' = ANY (sqlc.arg(models)::text[])
AND NOT EXISTS (SELECT FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text)
ORDER BY r.number;

-- name: RecordsOfDay :many
SELECT r.number, r.by_id, r.by_name, r.at, r.seal, listed_content(r.content, '', '')::jsonb AS content,
    coalesce((SELECT c.number FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text), 0)::bigint AS corrected_by
FROM records r
WHERE r.team_id = $1 AND r.day = sqlc.arg(day)::text AND r.number < sqlc.arg(before)::bigint
AND (sqlc.arg(drop_id)::text = '' OR r.drop_id = sqlc.arg(drop_id)::text)
AND (NOT sqlc.arg(own_hours)::bool OR r.kind <> 'hours' OR r.by_id = sqlc.arg(reader)::uuid OR r.person_id = sqlc.arg(person)::text)
AND (NOT sqlc.arg(no_members)::bool OR r.kind <> 'member-change' OR r.by_id = sqlc.arg(reader)::uuid)
ORDER BY r.number DESC LIMIT $2;

-- name: RecordsAbout :many
-- The records about one thing; of a change the rows that are.
SELECT r.number, r.by_id, r.by_name, r.at, r.seal, listed_content(r.content, s.kind, s.id)::jsonb AS content,
    coalesce((SELECT c.number FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text), 0)::bigint AS corrected_by
FROM record_subjects s
JOIN records r ON r.team_id = s.team_id AND r.number = s.number
WHERE s.team_id = $1 AND s.kind = sqlc.arg(kind)::text AND s.id = sqlc.arg(id)::text AND s.number < sqlc.arg(before)::bigint
ORDER BY s.number DESC LIMIT $2;

-- name: RecordsOfPerson :many
-- What somebody signed, and what is about them.
SELECT r.number, r.by_id, r.by_name, r.at, r.seal, listed_content(r.content, '', '')::jsonb AS content,
    coalesce((SELECT c.number FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text), 0)::bigint AS corrected_by
FROM records r
WHERE r.team_id = $1 AND r.number < sqlc.arg(before)::bigint
AND r.number IN (
    SELECT b.number FROM records b WHERE b.team_id = $1 AND b.by_id = sqlc.arg(account)::uuid
    UNION SELECT s.number FROM record_subjects s WHERE s.team_id = $1 AND s.kind = 'person' AND s.id = sqlc.arg(person)::text
    UNION SELECT s.number FROM record_subjects s WHERE s.team_id = $1 AND s.kind = 'member' AND s.id = sqlc.arg(account)::uuid::text)
ORDER BY r.number DESC LIMIT $2;

-- name: Hours :many
-- Hours on rope that stand, first ones first; of one reader alone where one is given.
SELECT r.number, r.by_id, r.by_name, r.at, r.seal, r.content::jsonb AS content, 0::bigint AS corrected_by,
    coalesce((SELECT min(c.by_name) FROM records c WHERE c.team_id = r.team_id AND c.kind = 'countersignature' AND c.person_id = r.person_id
        AND c.content ->> 'confirms' = r.id::text), '')::text AS confirmed_by
FROM records r
WHERE r.team_id = $1 AND r.kind = 'hours'
AND (NOT sqlc.arg(own_hours)::bool OR r.by_id = sqlc.arg(reader)::uuid OR r.person_id = sqlc.arg(person)::text)
AND NOT EXISTS (SELECT FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text)
ORDER BY r.day, r.number;

-- name: Examinations :many
-- Thorough examinations that stand, first ones first.
SELECT r.number, r.by_id, r.by_name, r.at, r.seal, r.content::jsonb AS content, 0::bigint AS corrected_by
FROM records r WHERE r.team_id = $1 AND r.kind = 'examination'
AND NOT EXISTS (SELECT FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text)
ORDER BY r.number;

-- name: RedateItem :exec
-- An examination that counted is withdrawn: what its records say else is its last one.
WITH setting AS (SELECT set_config('knot.withdrawing', sqlc.arg(id)::text, true))
UPDATE items SET examined_on = sqlc.narg(examined_on), again_by = sqlc.narg(again_by)
FROM setting WHERE team_id = $1 AND items.id = sqlc.arg(id)::text AND state <> 'retired';

-- name: HoursOfPerson :many
SELECT (r.content -> 'hours' ->> 'work')::text AS work, sum((r.content -> 'hours' ->> 'hours_h')::double precision)::double precision AS hours,
    count(DISTINCT r.day) AS days
FROM records r
WHERE r.team_id = $1 AND r.kind = 'hours' AND r.person_id = sqlc.arg(person)::text
AND NOT EXISTS (SELECT FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text)
GROUP BY 1 ORDER BY 2 DESC;

-- name: LastPlanStatesOf :many
SELECT DISTINCT ON (r.drop_id) r.drop_id::text AS drop_id, r.number, r.by_name, r.at, r.content FROM records r
WHERE r.team_id = $1 AND r.kind = 'plan-state' AND r.drop_id = ANY (sqlc.arg(ids)::text[])
ORDER BY r.drop_id, r.number DESC;

-- name: LastPlanStates :many
SELECT DISTINCT ON (r.drop_id) r.drop_id::text AS drop_id, (r.content -> 'plan' ->> 'state')::text AS state, r.number FROM records r
WHERE r.team_id = $1 AND r.kind = 'plan-state' AND r.drop_id IS NOT NULL
ORDER BY r.drop_id, r.number DESC;

-- name: EventsOf :many
SELECT * FROM item_events WHERE team_id = $1 AND item_id = ANY (sqlc.arg(ids)::text[]) ORDER BY item_id, number;

-- name: ItemsByID :many
SELECT sqlc.embed(i), m.body FROM items i JOIN models m ON m.team_id = i.team_id AND m.id = i.model_id
WHERE i.team_id = $1 AND i.id = ANY (sqlc.arg(ids)::text[]);

-- name: ModelsByID :many
SELECT id, body FROM models WHERE team_id = $1 AND id = ANY (sqlc.arg(ids)::text[]);

-- name: PeopleByID :many
SELECT * FROM people WHERE team_id = $1 AND id = ANY (sqlc.arg(ids)::text[]);

-- name: ReturnItem :exec
UPDATE items SET state = 'in-service', reason = '' WHERE team_id = $1 AND id = $2 AND state = 'quarantine';

-- name: CheckEvents :exec
UPDATE item_events SET checked_on = greatest(sqlc.arg(day)::date, happened), checked_by = left(sqlc.arg(checked_by)::text, 80) WHERE team_id = $1 AND item_id = $2 AND checked_on IS NULL;

-- name: RemoveFamiliarisation :exec
DELETE FROM familiarisations WHERE team_id = $1 AND person_id = $2 AND model_id = $3 AND shown_on = $4;

-- name: Notify :exec
SELECT pg_notify('team_changes', $1);

-- name: DropDays :many
SELECT id, (document ->> 'day')::text AS day FROM drops WHERE team_id = $1 AND id = ANY (sqlc.arg(ids)::text[]);

-- name: ChainForVerify :many
SELECT t.id, t.name, coalesce(c.number, 0)::bigint AS number, c.seal FROM teams t LEFT JOIN chains c ON c.team_id = t.id ORDER BY t.name;

-- name: Spend :one
-- Takes n from what an account may send, which grows by rate a second up to burst. No row
-- where that is not enough.
INSERT INTO sent AS s (account_id, allowance) VALUES ($1, sqlc.arg(burst)::double precision - sqlc.arg(n)::double precision)
ON CONFLICT (account_id) DO UPDATE SET at = clock_timestamp(),
    allowance = least(sqlc.arg(burst), s.allowance + sqlc.arg(rate)::double precision * extract(epoch FROM clock_timestamp() - s.at)) - sqlc.arg(n)
WHERE least(sqlc.arg(burst), s.allowance + sqlc.arg(rate) * extract(epoch FROM clock_timestamp() - s.at)) >= sqlc.arg(n)
RETURNING allowance;

-- name: Allowance :one
SELECT least(sqlc.arg(burst)::double precision, allowance + sqlc.arg(rate)::double precision * extract(epoch FROM clock_timestamp() - at))::double precision AS allowance
FROM sent WHERE account_id = $1;

-- name: HoursOfDays :many
SELECT r.person_id::text AS person, r.day::text AS day, sum((r.content -> 'hours' ->> 'hours_h')::double precision)::double precision AS hours
FROM records r
WHERE r.team_id = $1 AND r.kind = 'hours' AND r.person_id = ANY (sqlc.arg(people)::text[]) AND r.day = ANY (sqlc.arg(days)::text[])
AND NOT EXISTS (SELECT FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text)
GROUP BY 1, 2;
