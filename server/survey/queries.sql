-- name: uplinks
select id, name, kind, note, reserve_override as "reserveOverride", price_per_gb as "pricePerGb"
from uplinks where venue_id = $1 order by position;

-- name: timeZone
select v.time_zone as "timeZone" from uplinks u join venues v on v.id = u.venue_id where u.id = $1;

-- name: measurements
select m.id, m.uplink_id, m.taken_at, m.duration_s, m.rate_bps, m.layer, m.udp_payload_bytes, m.series_bps, m.floor,
  m.rtt_ms, m.jitter_ms, m.loss_ratio, m.source
from measurements m join uplinks u on u.id = m.uplink_id
where u.venue_id = $1 and m.deleted_at is null order by m.taken_at;

-- name: insert
insert into measurements (id, uplink_id, taken_at, duration_s, rate_bps, layer, udp_payload_bytes, series_bps, floor,
  rtt_ms, jitter_ms, loss_ratio, source, content_hash)
select x.id, $1, x."takenAt", x."durationS", x."rateBps", x.layer, x."udpPayloadBytes", x."seriesBps", x.floor,
  x."rttMs", x."jitterMs", x."lossRatio", x.source, x.hash
from jsonb_to_recordset($2::jsonb) as x(id text, "takenAt" timestamptz, "durationS" double precision, "rateBps" bigint,
  layer text, "udpPayloadBytes" int, "seriesBps" jsonb, floor boolean, "rttMs" double precision,
  "jitterMs" double precision, "lossRatio" double precision, source text, hash text)
on conflict (uplink_id, content_hash) do update set deleted_at = null where measurements.deleted_at is not null
returning id;

-- name: remove
update measurements set deleted_at = $2 where id = $1 returning id;

-- name: reserve
update uplinks set reserve_override = $2 where id = $1 returning id;
