-- name: list
select v.id, v.name, v.time_zone as "timeZone", v.note,
  coalesce((select jsonb_agg(jsonb_build_object('id', u.id, 'name', u.name, 'kind', u.kind,
    'tests', (select count(*) from measurements m where m.uplink_id = u.id)) order by u.position, u.name)
   from uplinks u where u.venue_id = v.id and u.archived_at is null and u.event_id is null), '[]') as uplinks,
  (select count(*) from events e where e.doc->>'venueId' = v.id)::int as events
from venues v order by v.name;

-- name: venue
select id, name, time_zone as "timeZone", note from venues where id = $1;

-- name: saveVenue
insert into venues (id, name, time_zone, note) values ($1, $2, $3, $4)
on conflict (id) do update set name = excluded.name, time_zone = excluded.time_zone, note = excluded.note;

-- name: uplinks
select id, name, kind, note, reserve_override as "reserveOverride", metered, reserved, members, reflector,
  local_address as "localAddress", event_id as "eventId"
from uplinks
where venue_id = $1 and archived_at is null and (event_id is null or event_id = $2)
order by event_id nulls first, position, name;

-- name: uplink
select u.id, u.name, u.kind, u.note, u.reserve_override as "reserveOverride", u.metered, u.reserved, u.members, u.reflector,
  u.local_address as "localAddress", u.event_id as "eventId", u.venue_id, v.time_zone
from uplinks u join venues v on v.id = u.venue_id where u.id = $1;

-- name: saveUplink
insert into uplinks (id, venue_id, position, name, kind, note, reserve_override, metered, reserved, members, reflector, local_address, event_id)
values ($1, $2, coalesce($3::int, (select count(*) from uplinks where venue_id = $2)), $4, $5, $6, $7, $8::jsonb, $9::jsonb, $10::jsonb, $11, $12, $13)
on conflict (id) do update set position = coalesce($3::int, uplinks.position), name = excluded.name, kind = excluded.kind, note = excluded.note,
  metered = excluded.metered, reserved = excluded.reserved, members = excluded.members, reflector = excluded.reflector,
  local_address = excluded.local_address, archived_at = null
where uplinks.venue_id = excluded.venue_id
returning id;

-- name: archive
update uplinks set archived_at = $2 where id = $1 returning id;

-- name: groupsWith
select name from uplinks where archived_at is null and members @> to_jsonb(array[$1::text]);

-- name: reserve
update uplinks set reserve_override = $2 where id = $1 returning id;

-- name: addUsed
update uplinks set metered = jsonb_set(metered, '{usedGb}', to_jsonb((metered->>'usedGb')::float8 + $2::float8))
where id = $1 and metered is not null;

-- name: idsLike
select id from venues where id like $1 union select id from uplinks where id like $1;

-- name: openEvents
select id from events where doc->>'venueId' = $1 and finished_at is null;

-- name: nextShow
select doc from events where doc->>'venueId' = $1 and finished_at is null order by show_start limit 1;

-- name: busy
select distinct f.uplink_id as id from feeds f
join runs r on r.event_id = f.event_id and r.destination_id = f.destination_id
join events e on e.id = f.event_id
where e.finished_at is null and r.facts->>'sendingAt' is not null and r.facts->>'stoppedAt' is null;
