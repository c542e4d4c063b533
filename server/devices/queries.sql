-- name: save
insert into paired_encoders (encoder_id, token_hash, paired_at) values ($1, $2, $3)
on conflict (encoder_id) do update set token_hash = excluded.token_hash, paired_at = excluded.paired_at;

-- name: byToken
select encoder_id as "encoderId" from paired_encoders where token_hash = $1;

-- name: paired
select encoder_id as "encoderId" from paired_encoders where encoder_id = $1;
