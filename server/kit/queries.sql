-- name: encoders
select doc from encoders where put_away_at is null and ($1::text is null or id = $1) order by doc->>'name';

-- name: ids
select id from encoders;

-- name: save
insert into encoders (id, doc) values ($1, $2) on conflict (id) do update set doc = excluded.doc, put_away_at = null;

-- name: putAway
update encoders set put_away_at = $2::timestamptz where id = $1 returning id;

-- name: uses
select u.encoder_id as "encoderId", e.id as "eventId", e.doc->>'name' as "eventName", v.name as "venueName",
  e.doc->>'timeZone' as "timeZone", e.doc->'show' as show,
  bool_or(u.planned) as planned, max(u.out_at) as "outAt", max(u.out_by) as "outBy"
from (
  select jsonb_array_elements_text(doc->'encoderIds') as encoder_id, id as event_id, true as planned,
    null::timestamptz as out_at, null::text as out_by
  from events where finished_at is null
  union all
  select encoder_id, event_id, false, out_at, out_by from kit_uses where back_at is null
) u
join events e on e.id = u.event_id
join venues v on v.id = e.doc->>'venueId'
group by u.encoder_id, e.id, v.name
order by e.show_start;

-- name: checkOut
insert into kit_uses (encoder_id, event_id, out_at, out_by) values ($1, $2, $3, $4)
on conflict (encoder_id, event_id) where back_at is null do nothing returning out_at;

-- name: checkIn
update kit_uses set back_at = $3, back_by = $4 where encoder_id = $1 and event_id = $2 and back_at is null returning out_at;
