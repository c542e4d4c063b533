-- name: newest
select s.doc, s.reach, s.saved_at as "savedAt", n.versions
from (select distinct on (platform_id) * from rule_sheets order by platform_id, revision desc) s
join (select platform_id, count(*)::int as versions from rule_sheets group by platform_id) n using (platform_id)
where $1::text is null or platform_id = $1
order by s.doc->'platform'->>'name';

-- name: versions
select s.doc, s.revision, s.saved_at as "savedAt",
  coalesce(jsonb_agg(jsonb_build_object('id', e.id, 'name', e.doc->>'name') order by e.show_start)
    filter (where e.id is not null), '[]') as events
from rule_sheets s
left join lateral (
  select r.event_id from runs r join events v on v.id = r.event_id
  cross join lateral jsonb_array_elements(v.doc->'destinations') d
  where d->>'id' = r.destination_id and d->>'platformId' = s.platform_id and r.sheet_revision = s.revision
) u on true
left join events e on e.id = u.event_id
where s.platform_id = $1
group by s.platform_id, s.revision
order by s.revision desc;

-- name: version
select doc, reach, saved_at as "savedAt" from rule_sheets where platform_id = $1 and revision = $2;

-- name: save
insert into rule_sheets (platform_id, revision, doc, reach, saved_at) values ($1, $2, $3, $4, $5)
on conflict (platform_id, revision) do update set reach = excluded.reach
where rule_sheets.doc = excluded.doc
returning revision;

-- name: setReach
update rule_sheets set reach = $2 where platform_id = $1;

-- name: remove
delete from rule_sheets where platform_id = $1;

-- name: ids
select distinct platform_id as id from rule_sheets;
