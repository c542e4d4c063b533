-- name: insert
insert into line_tests (id, uplink_id, due_at, state)
select x.id, $1, x."dueAt", x.state from jsonb_to_recordset($2::jsonb) as x(id text, "dueAt" timestamptz, state text);

-- name: list
select id, uplink_id as "uplinkId", due_at as "dueAt", state, started_at as "startedAt", ended_at as "endedAt",
  measurement_id as "measurementId", bytes, reason
from line_tests
where uplink_id = $1 and (state in ('planned', 'waiting', 'running') or due_at > $2::timestamptz - interval '14 days')
order by due_at;

-- name: one
select id, uplink_id as "uplinkId", due_at as "dueAt", state, started_at as "startedAt", ended_at as "endedAt",
  measurement_id as "measurementId", bytes, reason
from line_tests where id = $1;

-- name: open
select id, uplink_id as "uplinkId", due_at as "dueAt", state, started_at as "startedAt", ended_at as "endedAt",
  measurement_id as "measurementId", bytes, reason
from line_tests
where state in ('planned', 'waiting', 'running') and due_at <= $1::timestamptz order by due_at;

-- name: plannedCount
select count(*)::int as count from line_tests where uplink_id = $1 and state = 'planned';

-- name: set
update line_tests set state = $2, started_at = coalesce($3::timestamptz, started_at), ended_at = $4::timestamptz, measurement_id = $5, bytes = $6::bigint, reason = $7
where id = $1 and state in ('planned', 'waiting', 'running') returning id;

-- name: cancelPlanned
update line_tests set state = 'cancelled', ended_at = $2 where uplink_id = $1 and state = 'planned' returning id;
