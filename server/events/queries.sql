-- name: list
select e.doc, e.finished_at, e.chosen_plan, v.name as venue_name,
  exists (select 1 from incidents i where i.event_id = e.id and i.ended_at is null) as incident_open,
  exists (select 1 from measurements m join uplinks u on u.id = m.uplink_id
    where u.venue_id = v.id and u.archived_at is null and (u.event_id is null or u.event_id = e.id)
      and m.excluded is null and not m.floor) as measured
from events e
join venues v on v.id = e.doc->>'venueId'
where $1::text is null or e.id = $1
order by e.show_start;

-- name: runs
select * from runs where $1::text is null or event_id = $1;

-- name: insertEvent
insert into events (id, show_start, doc, finished_at) values ($1, $2, $3, $4);

-- name: insertRun
insert into runs (event_id, destination_id, sheet_revision, facts, failover) values ($1, $2, $3, $4, $5);

-- name: importRun
update runs set facts = $3, configured_at = $4, broadcast_id = 'imported', read_back = $5 where event_id = $1 and destination_id = $2;

-- name: renewSheet
update runs r set sheet_revision = $3 from events e, jsonb_array_elements(e.doc->'destinations') d
where r.event_id = $1 and e.id = r.event_id and d->>'id' = r.destination_id and d->>'platformId' = $2;

-- name: newestSheet
select doc, reach, revision from rule_sheets where platform_id = $1 order by revision desc limit 1;

-- name: sheet
select doc, reach, revision from rule_sheets where platform_id = $1 and revision = $2;

-- name: encoders
select doc from encoders where id = any($1::text[]) order by array_position($1::text[], id);

-- name: feeds
select f.id, f.role, f.destination_id as "destinationId", f.encoder_id as "encoderId", f.uplink_id as "uplinkId",
  f.target_bps as "targetBps", f.settings, u.name as "uplinkName"
from feeds f join uplinks u on u.id = f.uplink_id
where f.event_id = $1 order by f.role desc;

-- name: insertLog
insert into log (event_id, at, kind, level, feed_id, data)
select $1, x.at, x.kind, x.level, x."feedId", x.data
from jsonb_to_recordset($2::jsonb) as x(at timestamptz, kind text, level text, "feedId" text, data jsonb)
returning id, at, kind, level, feed_id as "feedId", data;

-- name: log
select id, at, kind, level, feed_id as "feedId", data from log
where event_id = $1 and ($2::bigint is null or id > $2) order by id;
