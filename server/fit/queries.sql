-- name: saveFeed
insert into feeds (id, event_id, destination_id, role, encoder_id, uplink_id, target_bps, settings)
values ($1, $2, $3, $4, $5, $6, $7, $8)
on conflict (event_id, destination_id, role) do update
set encoder_id = excluded.encoder_id, uplink_id = excluded.uplink_id, target_bps = excluded.target_bps, settings = excluded.settings;

-- name: dropFeeds
delete from feeds where event_id = $1 and destination_id = $2 and not (role = any($3::text[]));

-- name: saveFit
update runs set fit = $3::jsonb, configured_at = null, read_back = null where event_id = $1 and destination_id = $2;

-- name: uplinkOfVenue
select u.id from uplinks u where u.venue_id = $1 and u.archived_at is null and (u.event_id is null or u.event_id = $2);

-- name: saveEvent
update events set doc = $2 where id = $1;

-- name: savePlanOfEvent
update events set chosen_plan = $2 where id = $1;

-- name: plans
select doc from event_plans where event_id = $1 order by saved_at desc;

-- name: savePlan
insert into event_plans (id, event_id, saved_at, doc) values ($1, $2, $3, $4);

-- name: renamePlan
update event_plans set doc = jsonb_set(doc, '{name}', to_jsonb($3::text)) where event_id = $1 and id = $2;

-- name: dropPlan
delete from event_plans where event_id = $1 and id = $2;

-- name: addresses
select destination_id as "destinationId", role, address from ingests where event_id = $1;
