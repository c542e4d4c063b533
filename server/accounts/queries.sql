-- name: all
select service, token_sealed as "tokenSealed", since from accounts;

-- name: save
insert into accounts (service, token_sealed, since) values ($1, $2, $3)
on conflict (service) do update set token_sealed = excluded.token_sealed, since = excluded.since;

-- name: remove
delete from accounts where service = $1;
