-- Documents that were validated on the way in are kept whole as jsonb; what queries ask for stands in columns.
-- Times are timestamptz, rates bigint bit/s.

create table venues (
  id text primary key,
  name text not null,
  time_zone text not null,
  note text not null default ''
);

create table uplinks (
  id text primary key,
  venue_id text not null references venues,
  position int not null,
  name text not null,
  kind text not null,
  note text not null default '',
  reserve_override double precision,
  price_per_gb double precision
);

create table measurements (
  id text primary key,
  uplink_id text not null references uplinks,
  taken_at timestamptz not null,
  duration_s double precision not null,
  rate_bps bigint not null,
  layer text not null,
  udp_payload_bytes int,
  series_bps jsonb,
  floor boolean not null,
  rtt_ms double precision,
  jitter_ms double precision,
  loss_ratio double precision,
  source text not null,
  content_hash text not null,
  deleted_at timestamptz,
  unique (uplink_id, content_hash)
);

create table rule_sheets (
  platform_id text not null,
  revision int not null,
  doc jsonb not null,
  reach jsonb not null,
  primary key (platform_id, revision)
);

create table encoders (
  id text primary key,
  doc jsonb not null
);

create table events (
  id text primary key,
  show_start timestamptz not null,
  doc jsonb not null,
  finished_at timestamptz
);

-- Where one destination of an event stands; the live runtime writes it once a second at most.
create table runs (
  event_id text not null references events,
  destination_id text not null,
  sheet_revision int not null,
  fit jsonb,
  broadcast_id text,
  configured_at timestamptz,
  read_back jsonb,
  facts jsonb not null,
  failover jsonb not null,
  lineup_rtt_ms jsonb not null default '{}',
  primary key (event_id, destination_id)
);

create table ingests (
  event_id text not null references events,
  destination_id text not null,
  role text not null,
  address text not null,
  key_sealed text not null,
  received_at timestamptz not null,
  primary key (event_id, destination_id, role)
);

create table feeds (
  id text primary key,
  event_id text not null references events,
  destination_id text not null,
  role text not null,
  encoder_id text not null references encoders,
  uplink_id text not null references uplinks,
  target_bps bigint not null,
  settings jsonb not null,
  unique (event_id, destination_id, role)
);

-- Samples are appended in batches, one row for each feed and batch: a second on air, or a whole record on import.
-- A batch is a JSON array of rows in the order of the contract's sampleRow, read whole or not at all; parsing a column
-- for each figure costs ten times as much.
create table sample_batches (
  feed_id text not null references feeds,
  from_at timestamptz not null,
  until_at timestamptz not null,
  step_s smallint not null,
  rows json not null,
  primary key (feed_id, from_at)
);

create table verdicts (
  feed_id text not null references feeds,
  at timestamptz not null,
  doc jsonb not null,
  primary key (feed_id, at)
);

create table active_spans (
  event_id text not null references events,
  destination_id text not null,
  from_at timestamptz not null,
  role text not null,
  primary key (event_id, destination_id, from_at)
);

create table log (
  id bigint generated always as identity primary key,
  event_id text not null references events,
  at timestamptz not null,
  kind text not null,
  level text not null,
  feed_id text,
  data jsonb not null
);
create index log_by_event on log (event_id, at);

create table incidents (
  event_id text not null references events,
  id text not null,
  started_at timestamptz not null,
  ended_at timestamptz,
  doc jsonb not null,
  primary key (event_id, id)
);
