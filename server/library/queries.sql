-- name: saveVenue
insert into venues (id, name, time_zone, note) values ($1, $2, $3, $4)
on conflict (id) do update set name = excluded.name, time_zone = excluded.time_zone, note = excluded.note;

-- name: saveUplink
insert into uplinks (id, venue_id, position, name, kind, note, reserve_override, price_per_gb)
values ($1, $2, $3, $4, $5, $6, $7, $8)
on conflict (id) do update set position = excluded.position, name = excluded.name, kind = excluded.kind, note = excluded.note, price_per_gb = excluded.price_per_gb
where uplinks.venue_id = excluded.venue_id
returning id;

-- name: saveSheet
insert into rule_sheets (platform_id, revision, doc, reach) values ($1, $2, $3, $4)
on conflict (platform_id, revision) do update set reach = excluded.reach
where rule_sheets.doc = excluded.doc
returning revision;

-- name: saveEncoder
insert into encoders (id, doc) values ($1, $2) on conflict (id) do update set doc = excluded.doc;

-- name: venues
select v.id, v.name, v.time_zone as "timeZone", v.note,
  (select jsonb_agg(jsonb_build_object('id', u.id, 'name', u.name, 'kind', u.kind, 'note', u.note,
    'tests', (select count(*) from measurements m where m.uplink_id = u.id and m.deleted_at is null)) order by u.position)
   from uplinks u where u.venue_id = v.id) as uplinks
from venues v order by v.name;

-- name: sheets
select distinct on (platform_id) doc from rule_sheets order by platform_id, revision desc;

-- name: encoders
select doc from encoders order by id;
