-- name: insertBatches
insert into sample_batches
select b.feed_id, b.from_at, b.until_at, $5, b.rows
from unnest($1::text[], $2::timestamptz[], $3::timestamptz[], $4::json[]) as b(feed_id, from_at, until_at, rows)
on conflict do nothing;

-- name: batches
select b.feed_id as "feedId", b.rows from sample_batches b join feeds f on f.id = b.feed_id
where f.event_id = $1 and b.until_at >= $2 order by b.from_at;

-- name: stepS
select coalesce(max(b.step_s), 1)::int as "stepS" from sample_batches b join feeds f on f.id = b.feed_id where f.event_id = $1;

-- name: toThin
select distinct e.id from events e join feeds f on f.event_id = e.id join sample_batches b on b.feed_id = f.id
where e.finished_at < $1 and b.step_s = 1;

-- name: dropBatches
delete from sample_batches where feed_id in (select id from feeds where event_id = $1);

-- name: insertVerdict
insert into verdicts (feed_id, at, doc) values ($1, $2, $3) on conflict (feed_id, at) do update set doc = excluded.doc;

-- name: verdicts
select v.doc from verdicts v join feeds f on f.id = v.feed_id where f.event_id = $1 order by v.at;

-- name: insertSpan
insert into active_spans (event_id, destination_id, from_at, role) values ($1, $2, $3, $4) on conflict do nothing;

-- name: spans
select from_at as "from", role from active_spans where event_id = $1 order by from_at;

-- name: saveIncident
insert into incidents (event_id, id, started_at, ended_at, doc) values ($1, $2, $3, $4, $5)
on conflict (event_id, id) do update set ended_at = excluded.ended_at, doc = excluded.doc;

-- name: incidents
select doc from incidents where event_id = $1 order by started_at;

-- name: saveRun
update runs set facts = $3, failover = $4, lineup_rtt_ms = $5 where event_id = $1 and destination_id = $2;

-- name: finish
update events set finished_at = $2 where id = $1 and finished_at is null;

-- name: running
select event_id as "eventId" from runs
where facts->>'sendingAt' is not null and facts->>'stoppedAt' is null and broadcast_id <> 'imported';
