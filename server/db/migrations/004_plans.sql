-- An event has several encoders and destinations; plans of it are kept, and one of them is what it goes by.

update events set doc = (doc - 'encoderId') || jsonb_build_object('encoderIds', jsonb_build_array(doc->>'encoderId'))
where doc ? 'encoderId';

alter table events add column chosen_plan jsonb;

create table event_plans (
  id text primary key,
  event_id text not null references events,
  saved_at timestamptz not null,
  doc jsonb not null
);
