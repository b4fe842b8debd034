-- name: AddTeam :one
INSERT INTO teams (name) VALUES ($1)
ON CONFLICT (name) DO NOTHING
RETURNING id, name, time_zone;

-- name: TeamNamed :one
SELECT id, name, time_zone FROM teams WHERE name = $1;

-- name: TimeZone :one
SELECT time_zone FROM teams WHERE id = $1;

-- name: SetTimeZone :exec
UPDATE teams SET time_zone = $2 WHERE id = $1;

-- name: PutModel :exec
INSERT INTO models (team_id, id, class, body) VALUES ($1, $2, $3, $4)
ON CONFLICT (team_id, id) DO UPDATE SET class = EXCLUDED.class, body = EXCLUDED.body;

-- name: Models :many
SELECT body, revision FROM models WHERE team_id = $1 ORDER BY class, id;

-- name: PutItems :batchexec
INSERT INTO items (team_id, id, model_id, class, serial, label, state, reason, made_on, first_used_on, examined_on, owner, place, kit, length_m, measured_mm, condition, guest, again_by, code, lot, harsh_months, bought_on, marking)
VALUES ($1, $2, $3, (SELECT m.class FROM models m WHERE m.team_id = $1 AND m.id = $3), $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, sqlc.narg(again_by), sqlc.narg(code)::text, sqlc.arg(lot), sqlc.narg(harsh_months)::int, sqlc.narg(bought_on), sqlc.arg(marking))
ON CONFLICT (team_id, id) DO UPDATE SET
    model_id = EXCLUDED.model_id, class = EXCLUDED.class, serial = EXCLUDED.serial, label = EXCLUDED.label, state = EXCLUDED.state,
    reason = EXCLUDED.reason, made_on = EXCLUDED.made_on, first_used_on = EXCLUDED.first_used_on, examined_on = EXCLUDED.examined_on,
    owner = EXCLUDED.owner, place = EXCLUDED.place, kit = EXCLUDED.kit, length_m = EXCLUDED.length_m,
    measured_mm = EXCLUDED.measured_mm, condition = EXCLUDED.condition, guest = EXCLUDED.guest, again_by = EXCLUDED.again_by, lot = EXCLUDED.lot, harsh_months = EXCLUDED.harsh_months,
    bought_on = EXCLUDED.bought_on, marking = EXCLUDED.marking;

-- name: Items :many
SELECT * FROM items WHERE team_id = $1 ORDER BY id;

-- name: PutKit :exec
INSERT INTO kits (team_id, id, name, wanted) VALUES ($1, $2, $3, $4)
ON CONFLICT (team_id, id) DO UPDATE SET name = EXCLUDED.name, wanted = EXCLUDED.wanted;

-- name: Kits :many
SELECT * FROM kits WHERE team_id = $1 ORDER BY name, id;

-- name: KitsByID :many
SELECT * FROM kits WHERE team_id = $1 AND id = ANY (sqlc.arg(ids)::text[]);

-- name: SealKit :exec
UPDATE kits SET seal = sqlc.narg(seal) WHERE team_id = @team_id AND id = @id;

-- name: MoveKit :exec
UPDATE kits SET issued_to = $3, issued_on = $4, went_out = $5, missing = $6 WHERE team_id = $1 AND id = $2;

-- name: PutEvent :exec
INSERT INTO item_events (team_id, item_id, number, kind, happened, checked_on, note, person_in, checked_by) VALUES ($1, $2, $3, $4, $5, $6, $7, sqlc.narg(person_in), sqlc.arg(checked_by))
ON CONFLICT DO NOTHING;

-- name: ItemIDs :many
SELECT id FROM items WHERE team_id = $1;

-- name: Events :many
SELECT * FROM item_events WHERE team_id = $1 ORDER BY item_id, number;

-- name: PutPerson :exec
INSERT INTO people (team_id, id, name, mass_kg, harness_id, reach_up_m, reach_out_m, hand_mm, papers) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)
ON CONFLICT (team_id, id) DO UPDATE SET name = EXCLUDED.name, mass_kg = EXCLUDED.mass_kg, harness_id = EXCLUDED.harness_id,
    reach_up_m = EXCLUDED.reach_up_m, reach_out_m = EXCLUDED.reach_out_m, hand_mm = EXCLUDED.hand_mm, papers = EXCLUDED.papers;

-- name: TouchPerson :exec
-- What somebody is familiar with is part of them.
UPDATE people SET id = id WHERE team_id = $1 AND id = $2;

-- name: People :many
SELECT * FROM people WHERE team_id = $1 ORDER BY name, id;

-- name: PutFamiliarisation :exec
INSERT INTO familiarisations (team_id, person_id, model_id, shown_on, shown_by) VALUES ($1, $2, $3, $4, $5)
ON CONFLICT DO NOTHING;

-- name: Familiarisations :many
SELECT * FROM familiarisations WHERE team_id = $1 ORDER BY person_id, model_id, shown_on;

-- name: AddDrop :one
-- A drop whose id another had that was removed goes on from its versions.
INSERT INTO drops (team_id, id, name, document, changed_by, changed_by_name, version)
SELECT $1, $2, $3, $4, $5, $6, coalesce(max(v.version), 0) + 1 FROM drop_versions v WHERE v.team_id = $1 AND v.drop_id = $2
ON CONFLICT (team_id, id) DO NOTHING
RETURNING version;

-- name: Drop :one
SELECT id, version, document, changed_at, changed_by, changed_by_name FROM drops WHERE team_id = $1 AND id = $2;

-- name: Drops :many
-- Last changed first; of those that have some letters in their name, site or day; after a drop as it was seen.
SELECT id, version, document, changed_at FROM drops
WHERE team_id = $1
  AND (sqlc.arg(find)::text = '' OR strpos(lower(concat_ws(' ', name, document ->> 'site', document ->> 'day')), lower(sqlc.arg(find)::text)) > 0)
  AND (sqlc.narg(before)::timestamptz IS NULL OR changed_at < sqlc.narg(before)::timestamptz OR changed_at = sqlc.narg(before)::timestamptz AND id > sqlc.arg(after)::text)
ORDER BY changed_at DESC, id LIMIT $2;

-- name: SaveDrop :one
UPDATE drops SET name = $4, document = $5, version = version + 1, changed_at = now(), changed_by = $6, changed_by_name = $7
WHERE team_id = $1 AND id = $2 AND version = $3
RETURNING version;

-- name: DropsByID :many
SELECT id, version, document, changed_at FROM drops WHERE team_id = $1 AND id = ANY (sqlc.arg(ids)::text[]);

-- name: DropNames :many
SELECT id, name FROM drops WHERE team_id = $1 AND id = ANY (sqlc.arg(ids)::text[]);

-- name: DropVersion :one
SELECT version FROM drops WHERE team_id = $1 AND id = $2;

-- name: DropVersions :many
SELECT version, name, changed_at, changed_by, changed_by_name FROM drop_versions WHERE team_id = $1 AND drop_id = $2 AND (sqlc.arg(before)::int = 0 OR version < sqlc.arg(before)::int) ORDER BY version DESC LIMIT $3;

-- name: RemovedDrops :many
-- The last version of each drop that is no more, last changed first.
SELECT drop_id, version, name, changed_at FROM (
    SELECT DISTINCT ON (v.drop_id) v.drop_id, v.version, v.name, v.changed_at FROM drop_versions v
    WHERE v.team_id = $1 AND NOT EXISTS (SELECT 1 FROM drops d WHERE d.team_id = v.team_id AND d.id = v.drop_id)
    ORDER BY v.drop_id, v.version DESC
) gone ORDER BY changed_at DESC, drop_id LIMIT $2;

-- name: DropBefore :one
-- A drop as it was before a time.
SELECT document FROM drop_versions WHERE team_id = $1 AND drop_id = $2 AND changed_at < sqlc.arg(before)::timestamptz ORDER BY version DESC LIMIT 1;

-- name: DropAt :one
SELECT version, document, changed_at, changed_by, changed_by_name FROM drop_versions WHERE team_id = $1 AND drop_id = $2 AND version = $3;

-- name: RemoveDrop :one
DELETE FROM drops WHERE team_id = $1 AND id = $2 AND version = $3 RETURNING version;

-- name: Policy :one
SELECT version, body FROM policies WHERE team_id = $1;

-- name: AddPolicy :one
INSERT INTO policies (team_id, body) VALUES ($1, $2)
ON CONFLICT (team_id) DO NOTHING
RETURNING version;

-- name: SavePolicy :one
UPDATE policies SET version = version + 1, body = sqlc.arg(body), changed_at = now()
WHERE team_id = $1 AND version = $2
RETURNING version;

-- name: QuarantineItem :one
-- Only what is in service changes; what is retired stays so, and what is in
-- quarantine keeps its first reason.
UPDATE items SET state = CASE state WHEN 'in-service' THEN 'quarantine' ELSE state END,
    reason = CASE state WHEN 'in-service' THEN sqlc.arg(reason) ELSE reason END
WHERE team_id = $1 AND id = $2
RETURNING state;

-- name: ExamineItem :exec
-- What is out of service keeps its days.
UPDATE items SET examined_on = sqlc.arg(examined_on), again_by = sqlc.narg(again_by)
WHERE team_id = $1 AND id = $2 AND state = 'in-service' AND (examined_on IS NULL OR examined_on <= sqlc.arg(examined_on));

-- name: RetireItem :exec
UPDATE items SET state = 'retired', reason = sqlc.arg(reason) WHERE team_id = $1 AND id = $2 AND state <> 'retired';

-- name: ItemsOfModels :many
SELECT sqlc.embed(i), m.body FROM items i JOIN models m ON m.team_id = i.team_id AND m.id = i.model_id
WHERE i.team_id = $1 AND i.model_id = ANY (sqlc.arg(models)::text[]) ORDER BY i.id;

-- name: CutRope :exec
SELECT cut_rope($1, sqlc.arg(rope)::text, sqlc.arg(at)::double precision, sqlc.arg(part)::text, sqlc.arg(called)::text);

-- name: DropsSince :many
SELECT id, name, document FROM drops WHERE team_id = $1 AND document ->> 'day' >= sqlc.arg(since)::text ORDER BY document ->> 'day', id;

-- name: AddPhoto :exec
INSERT INTO photos (team_id, sum, type, body, by_id) VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING;

-- name: Photo :one
SELECT type, body FROM photos WHERE team_id = $1 AND sum = $2;

-- name: PhotosThere :many
SELECT sum FROM photos WHERE team_id = $1 AND sum = ANY (sqlc.arg(sums)::bytea[]);

-- name: ItemByCode :one
SELECT id FROM items WHERE team_id = $1 AND code = $2;

-- name: AddFeed :exec
INSERT INTO feeds (team_id, id, secret, made_by, made_by_id) VALUES ($1, $2, $3, $4, $5);

-- name: Feeds :many
-- Those whose maker may still make one.
SELECT id, made_by, made_at FROM feeds WHERE team_id = $1 AND revoked_at IS NULL AND still_may(made_by_id, team_id, ARRAY['supervisor', 'store-keeper']) ORDER BY made_at DESC, id;

-- name: RevokeFeed :one
UPDATE feeds SET revoked_at = now() WHERE team_id = $1 AND id = $2 AND revoked_at IS NULL RETURNING id;

-- name: FeedTeam :one
SELECT t.id, t.name, t.time_zone FROM feeds f JOIN teams t ON t.id = f.team_id WHERE f.secret = $1 AND f.revoked_at IS NULL AND still_may(f.made_by_id, f.team_id, ARRAY['supervisor', 'store-keeper']);

-- name: AddEvent :exec
INSERT INTO item_events (team_id, item_id, number, kind, happened, note, person_in)
SELECT $1, $2, coalesce(max(e.number), 0) + 1, $3, $4, $5, sqlc.narg(person_in)::text FROM item_events e WHERE e.team_id = $1 AND e.item_id = $2;

-- name: DropsWithItem :many
SELECT id, name, (document ->> 'day')::text AS day FROM drops
WHERE team_id = $1 AND document ->> 'day' >= sqlc.arg(since)::text
  AND EXISTS (SELECT FROM jsonb_array_elements(document -> 'items') i WHERE i ->> 'id' = sqlc.arg(item)::text)
ORDER BY 3, 1 LIMIT 100;

-- name: DropsOfDay :many
SELECT id, name, document FROM drops WHERE team_id = $1 AND document ->> 'day' = sqlc.arg(day)::text AND id <> sqlc.arg(besides)::text ORDER BY id;

-- name: Board :one
SELECT version, document, changed_at, changed_by_name FROM boards WHERE team_id = $1 AND day = $2;

-- name: AddBoard :one
INSERT INTO boards (team_id, day, document, changed_by_name) VALUES ($1, $2, $3, $4)
ON CONFLICT (team_id, day) DO NOTHING
RETURNING version;

-- name: SaveBoard :one
UPDATE boards SET version = version + 1, document = sqlc.arg(document), changed_at = now(), changed_by_name = sqlc.arg(changed_by_name)
WHERE team_id = $1 AND day = $2 AND version = $3
RETURNING version;

-- name: BoardsBetween :many
SELECT day, document FROM boards WHERE team_id = $1 AND day BETWEEN sqlc.arg(first) AND sqlc.arg(last) ORDER BY day;

-- name: DropsOfDays :many
SELECT id, name, (document ->> 'day')::text AS day FROM drops
WHERE team_id = $1 AND document ->> 'day' BETWEEN sqlc.arg(first)::text AND sqlc.arg(last)::text ORDER BY document ->> 'day', name, id;

-- name: AddRun :exec
INSERT INTO runs (team_id, id, drop_id, day, document, released, sum, by_id, by_name) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9);

-- name: Run :one
SELECT drop_id, day, document, phase, by_name, at FROM runs WHERE team_id = $1 AND id = $2;

-- name: LockRun :one
SELECT drop_id, day, document, phase FROM runs WHERE team_id = $1 AND id = $2 FOR UPDATE;

-- name: Runs :many
SELECT id, drop_id, day, phase, by_name, at, coalesce((document ->> 'exercise')::bool, false)::bool AS exercise FROM runs
WHERE team_id = $1 AND (sqlc.arg(drop)::text = '' OR drop_id = sqlc.arg(drop)::text)
ORDER BY at DESC, id LIMIT 100;

-- name: RunEvents :many
SELECT id, content, by_id FROM run_events WHERE team_id = $1 AND run_id = $2 ORDER BY at, id;

-- name: AddRunEvent :exec
INSERT INTO run_events (team_id, run_id, id, content, by_id) VALUES ($1, $2, $3, $4, $5);

-- name: SetRunPhase :exec
UPDATE runs SET phase = $3 WHERE team_id = $1 AND id = $2;

-- name: AddDeviceToken :exec
INSERT INTO device_tokens (team_id, run_id, id, name, secret, made_by) VALUES ($1, $2, $3, $4, $5, $6);

-- name: DeviceTokens :many
SELECT id, name, made_by, made_at FROM device_tokens WHERE team_id = $1 AND run_id = $2 AND revoked_at IS NULL ORDER BY made_at, id;

-- name: RevokeDeviceToken :one
UPDATE device_tokens SET revoked_at = now() WHERE team_id = $1 AND run_id = $2 AND id = $3 AND revoked_at IS NULL RETURNING id;

-- name: DeviceTokenRun :one
SELECT team_id, run_id FROM device_tokens WHERE secret = $1 AND revoked_at IS NULL;

-- name: AddReadings :exec
INSERT INTO readings (team_id, run_id, channel, count, body) VALUES ($1, $2, $3, $4, $5);

-- name: Readings :many
SELECT channel, number, count, body FROM readings WHERE team_id = $1 AND run_id = $2 AND (sqlc.arg(channel)::text = '' OR channel = sqlc.arg(channel)::text) ORDER BY channel, number;

-- name: FewReadings :many
-- Rows of few, oldest first. Two who put the same together at once make some readings twice,
-- which is once when they are read; none is lost.
SELECT number, body FROM readings WHERE team_id = $1 AND run_id = $2 AND channel = $3 AND count < sqlc.arg(few) ORDER BY number;

-- name: RemoveReadings :exec
DELETE FROM readings WHERE team_id = $1 AND run_id = $2 AND channel = $3 AND number = ANY (sqlc.arg(numbers)::bigint[]);

-- name: Preplans :many
SELECT * FROM preplans WHERE team_id = $1 ORDER BY id LIMIT 1000;

-- name: PreplansOf :many
-- The pre-plans that name some drops.
SELECT id, document FROM preplans WHERE team_id = $1 AND document->>'drop' = ANY (sqlc.arg(drops)::text[]) ORDER BY id;

-- name: Preplan :one
SELECT * FROM preplans WHERE team_id = $1 AND id = $2;

-- name: AddPreplan :one
INSERT INTO preplans (team_id, id, document, changed_by_name) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING RETURNING version;

-- name: SavePreplan :one
UPDATE preplans SET document = $4, version = version + 1, changed_at = now(), changed_by_name = $5
WHERE team_id = $1 AND id = $2 AND version = $3 RETURNING version;

-- name: RemovePreplan :one
DELETE FROM preplans WHERE team_id = $1 AND id = $2 AND version = $3 RETURNING version;

-- name: Callouts :many
SELECT c.id, c.document, c.changed_at, c.run_id, r.drop_id FROM callouts c LEFT JOIN runs r ON r.team_id = c.team_id AND r.id = c.run_id
WHERE c.team_id = $1 ORDER BY c.changed_at DESC, c.id LIMIT 50;

-- name: LockCallout :one
SELECT c.document, c.run_id FROM callouts c WHERE c.team_id = $1 AND c.id = $2 FOR UPDATE;

-- name: AddCallout :execrows
INSERT INTO callouts (team_id, id, document, changed_by_name) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING;

-- name: SaveCallout :exec
UPDATE callouts SET document = $3, changed_at = now(), changed_by_name = $4 WHERE team_id = $1 AND id = $2;

-- name: PutAwayCallout :exec
UPDATE callouts SET document = $3, run_id = $4, changed_at = now(), changed_by_name = $5 WHERE team_id = $1 AND id = $2;

-- name: ClosedRuns :many
SELECT id, document FROM runs WHERE team_id = $1 AND phase = 'closed' ORDER BY at DESC, id LIMIT 300;

-- name: PutPractice :exec
INSERT INTO practices (team_id, record_id, person_id, skill, how, day, by_name) VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT DO NOTHING;

-- name: RemovePractice :exec
DELETE FROM practices WHERE team_id = $1 AND record_id = $2;

-- The last of each person, skill and way.
-- name: Practices :many
SELECT DISTINCT ON (person_id, skill, how) person_id, skill, how, day, by_name FROM practices
WHERE team_id = $1 ORDER BY person_id, skill, how, day DESC, record_id;

-- Of a team that comes as a whole: what its records say that stand.
-- name: PracticesOfRecords :exec
INSERT INTO practices (team_id, record_id, person_id, skill, how, day, by_name)
SELECT r.team_id, r.id, r.person_id, r.content #>> '{practice,skill}', r.content #>> '{practice,how}', (r.content ->> 'day')::date, r.by_name
FROM records r JOIN people p ON p.team_id = r.team_id AND p.id = r.person_id WHERE r.team_id = $1 AND r.kind = 'practice'
AND NOT EXISTS (SELECT FROM records c WHERE c.team_id = r.team_id AND c.corrects = r.id::text);

-- name: Classes :many
SELECT * FROM classes WHERE team_id = $1 ORDER BY changed_at DESC, id LIMIT 200;

-- name: Class :one
SELECT * FROM classes WHERE team_id = $1 AND id = $2;

-- name: AddClass :one
INSERT INTO classes (team_id, id, document, changed_by_name) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING RETURNING version;

-- name: SaveClass :one
UPDATE classes SET document = $4, version = version + 1, changed_at = now(), changed_by_name = $5
WHERE team_id = $1 AND id = $2 AND version = $3 RETURNING version;

-- name: RemoveClass :one
DELETE FROM classes WHERE team_id = $1 AND id = $2 AND version = $3 RETURNING version;

-- name: AddMark :execrows
INSERT INTO marks (team_id, id, by_id, by_name, person_id, class_id, listed, skill, score, exercise, answer, mark)
VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) ON CONFLICT DO NOTHING;

-- name: Mark :one
SELECT * FROM marks WHERE team_id = $1 AND id = $2;

-- Without who: of everybody.
-- name: Marks :many
SELECT id, by_id, by_name, person_id, class_id, listed, skill, score, at, (exercise::json ->> 'kind')::text AS kind,
    (exercise::json ->> 'seed')::bigint AS seed, (exercise::json ->> 'level')::int AS level,
    coalesce(exercise::json #>> '{question,move}', '')::text AS move
FROM marks WHERE team_id = $1 AND (sqlc.narg(by_id)::uuid IS NULL OR by_id = sqlc.narg(by_id))
AND (sqlc.narg(class_id)::uuid IS NULL OR class_id = sqlc.narg(class_id)) ORDER BY at DESC, id LIMIT CASE WHEN sqlc.narg(class_id)::uuid IS NULL THEN 500 ELSE 10000 END;

-- name: JointExercises :many
SELECT * FROM joint_exercises WHERE team_id = $1 ORDER BY begun_at DESC, id LIMIT 50;

-- name: JointExercise :one
SELECT * FROM joint_exercises WHERE team_id = $1 AND id = $2;

-- name: LockJointExercise :one
SELECT * FROM joint_exercises WHERE team_id = $1 AND id = $2 FOR UPDATE;

-- name: AddJointExercise :execrows
INSERT INTO joint_exercises (team_id, id, document, by_name) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING;

-- name: SaveJointExercise :exec
UPDATE joint_exercises SET document = $3, changed_at = now() WHERE team_id = $1 AND id = $2;

-- name: ForgetJointExercises :exec
DELETE FROM joint_exercises WHERE team_id = $1 AND changed_at < now() - interval '7 days';
