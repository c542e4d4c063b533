-- Sheets say when they came; encoders may be put away and go out to events; platforms and encoders that were let in by a code.

alter table rule_sheets add column saved_at timestamptz not null default now();

alter table encoders add column put_away_at timestamptz;
update encoders set doc = (doc - 'addressFields')
  || jsonb_build_object('setBy', case doc->>'addressFields' when 'one' then 'one field' else 'two fields' end)
where doc ? 'addressFields';

-- An encoder that left for an event, and came back.
create table kit_uses (
  encoder_id text not null references encoders,
  event_id text not null references events,
  out_at timestamptz not null,
  out_by text not null,
  back_at timestamptz,
  back_by text,
  primary key (encoder_id, event_id, out_at)
);
create unique index kit_out_once on kit_uses (encoder_id, event_id) where back_at is null;

-- Services that let this server in by a code (RFC 8628); the token is sealed like a stream key.
create table accounts (
  service text primary key,
  token_sealed text not null,
  since timestamptz not null
);

-- Encoders that were let in by a code and fetch their settings themselves; only a hash of their token is kept.
create table paired_encoders (
  encoder_id text primary key references encoders,
  token_hash text not null unique,
  paired_at timestamptz not null
);

-- What a platform wants to be told beside the key.
alter table ingests add column said_sealed text;
