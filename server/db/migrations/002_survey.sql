-- Uplinks that last: what they cost, who else is on them, groups of them, and those that one event brought along.
alter table uplinks
  add column metered jsonb,
  add column reserved jsonb not null default '[]',
  add column members jsonb not null default '[]',
  add column reflector text,
  add column local_address text,
  add column event_id text references events,
  add column archived_at timestamptz;
update uplinks set metered = jsonb_build_object('allowanceGb', null, 'usedGb', 0, 'pricePerGb', price_per_gb) where price_per_gb is not null;
alter table uplinks drop column price_per_gb;

-- A test is never deleted: it is excluded for a reason and stays on the list. What makes two tests one stands as it is.
alter table measurements add column excluded text, add column import_id text;
update measurements set excluded = 'deleted earlier' where deleted_at is not null;
alter table measurements drop column deleted_at;
alter table measurements rename column content_hash to content_key;
update measurements set content_key = concat_ws('|', (extract(epoch from taken_at) * 1000)::bigint, duration_s, rate_bps, layer,
  case when floor then 'floor' else '' end, coalesce(udp_payload_bytes::text, ''), coalesce(rtt_ms::text, ''),
  coalesce(jitter_ms::text, ''), coalesce(loss_ratio::text, ''));
create index measurements_by_uplink on measurements (uplink_id, id);

create table region_trips (
  uplink_id text not null references uplinks,
  platform_id text not null,
  region_id text not null,
  rtt_ms double precision not null,
  taken_at timestamptz not null,
  primary key (uplink_id, platform_id, region_id, taken_at)
);

create table line_tests (
  id text primary key,
  uplink_id text not null references uplinks,
  due_at timestamptz not null,
  state text not null,
  started_at timestamptz,
  ended_at timestamptz,
  measurement_id text,
  bytes bigint,
  reason text
);
create index line_tests_open on line_tests (state, due_at);
create index line_tests_by_uplink on line_tests (uplink_id, due_at);

-- Sheets written before platforms had regions.
update rule_sheets set doc = doc || '{"regions": []}' where not doc ? 'regions';
