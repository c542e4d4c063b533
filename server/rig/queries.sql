-- name: saveBroadcast
update runs set broadcast_id = $3, facts = $4, configured_at = null, read_back = null where event_id = $1 and destination_id = $2;

-- name: saveIngest
insert into ingests (event_id, destination_id, role, address, key_sealed, said_sealed, received_at) values ($1, $2, $3, $4, $5, $6, $7)
on conflict (event_id, destination_id, role) do update
set address = excluded.address, key_sealed = excluded.key_sealed, said_sealed = excluded.said_sealed, received_at = excluded.received_at;

-- name: ingests
select role, address, key_sealed as "keySealed", said_sealed as "saidSealed", received_at as "receivedAt" from ingests
where event_id = $1 and destination_id = $2 order by role desc;

-- name: saveReadBack
update runs set configured_at = $3, read_back = $4, facts = jsonb_set(facts, '{configured}', to_jsonb($5::boolean))
where event_id = $1 and destination_id = $2;
