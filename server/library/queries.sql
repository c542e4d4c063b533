-- name: saveSheet
insert into rule_sheets (platform_id, revision, doc, reach) values ($1, $2, $3, $4)
on conflict (platform_id, revision) do update set reach = excluded.reach
where rule_sheets.doc = excluded.doc
returning revision;

-- name: saveEncoder
insert into encoders (id, doc) values ($1, $2) on conflict (id) do update set doc = excluded.doc;

-- name: sheets
select distinct on (platform_id) doc from rule_sheets order by platform_id, revision desc;

-- name: encoders
select doc from encoders order by id;
