-- name: page
select id, taken_at, duration_s, rate_bps, layer, udp_payload_bytes, series_bps, floor, rtt_ms, jitter_ms, loss_ratio, source, excluded
from measurements where uplink_id = $1 and id > $2 order by id limit $3;

-- name: insert
insert into measurements (id, uplink_id, taken_at, duration_s, rate_bps, layer, udp_payload_bytes, series_bps, floor,
  rtt_ms, jitter_ms, loss_ratio, source, excluded, content_key, import_id)
select x.id, $1, x."takenAt", x."durationS", x."rateBps", x.layer, x."udpPayloadBytes", x."seriesBps", x.floor,
  x."rttMs", x."jitterMs", x."lossRatio", x.source, x.excluded, x.key, $3
from jsonb_to_recordset($2::jsonb) as x(id text, "takenAt" timestamptz, "durationS" double precision, "rateBps" bigint,
  layer text, "udpPayloadBytes" int, "seriesBps" jsonb, floor boolean, "rttMs" double precision,
  "jitterMs" double precision, "lossRatio" double precision, source text, excluded text, key text)
on conflict (uplink_id, content_key) do nothing
returning id;

-- name: known
select content_key as key from measurements where uplink_id = $1 and content_key = any($2::text[]);

-- name: exclude
update measurements set excluded = $2 where id = $1 returning id, uplink_id;

-- name: undoImport
delete from measurements where uplink_id = $1 and import_id = $2 returning id;

-- name: trips
select uplink_id as "uplinkId", platform_id as "platformId", region_id as "regionId", rtt_ms as "rttMs", taken_at as "takenAt"
from region_trips where uplink_id = any($1::text[]) order by taken_at;

-- name: addTrip
insert into region_trips (uplink_id, platform_id, region_id, rtt_ms, taken_at) values ($1, $2, $3, $4, $5)
on conflict (uplink_id, platform_id, region_id, taken_at) do update set rtt_ms = excluded.rtt_ms;
