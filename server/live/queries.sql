-- name: insertSamples
insert into samples
select x."feedId", x.at, 1, x."targetBps", x."sentBps", x."receivedBps", x."framesEncoded", x."framesDropped", x."frameRateHz",
  x."encoderLoad", x."queueMs", x."rttMs", x."retransmittedShare", x.reconnects, x."keyframeS", x."audioDb", x."pictureChange", x.platform
from jsonb_to_recordset($1::jsonb) as x("feedId" text, at timestamptz, "targetBps" bigint, "sentBps" bigint,
  "receivedBps" bigint, "framesEncoded" real, "framesDropped" real, "frameRateHz" double precision, "encoderLoad" real,
  "queueMs" real, "rttMs" real, "retransmittedShare" real, reconnects int, "keyframeS" real, "audioDb" real,
  "pictureChange" real, platform text)
on conflict do nothing;

-- name: samples
select s.feed_id as "feedId", s.at, s.target_bps as "targetBps", s.sent_bps as "sentBps", s.received_bps as "receivedBps",
  s.frames_encoded as "framesEncoded", s.frames_dropped as "framesDropped", s.frame_rate_hz as "frameRateHz",
  s.encoder_load as "encoderLoad", s.queue_ms as "queueMs", s.rtt_ms as "rttMs", s.retransmitted_share as "retransmittedShare",
  s.reconnects, s.keyframe_s as "keyframeS", s.audio_db as "audioDb", s.picture_change as "pictureChange", s.platform
from samples s join feeds f on f.id = s.feed_id
where f.event_id = $1 and s.at >= $2 order by s.at;

-- name: sampleStep
select coalesce(max(s.step_s), 1)::int as "stepS" from samples s join feeds f on f.id = s.feed_id where f.event_id = $1;

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

-- name: thinFinished
with old as (
  delete from samples s using feeds f, events e
  where f.id = s.feed_id and e.id = f.event_id and e.finished_at < $1 and s.step_s = 1 returning s.*
)
insert into samples
select feed_id, to_timestamp(floor(extract(epoch from at) / 10) * 10), 10, max(target_bps), avg(sent_bps)::bigint,
  avg(received_bps)::bigint, avg(frames_encoded), avg(frames_dropped), max(frame_rate_hz), avg(encoder_load), max(queue_ms),
  avg(rtt_ms), avg(retransmitted_share), max(reconnects), max(keyframe_s), avg(audio_db), avg(picture_change), min(platform)
from old group by feed_id, to_timestamp(floor(extract(epoch from at) / 10) * 10)
on conflict do nothing;
