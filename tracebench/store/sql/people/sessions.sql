-- name: begin_session(token_hash, person_id, epoch, address, device, at)!
-- Somebody signed in.
INSERT INTO sign_in_session (token_hash, person_id, epoch, address, device, created_at, used_at)
VALUES (:token_hash, :person_id, :epoch, :address, :device, :at, :at);

-- name: of_session(token_hash, since)$
-- The person of a session that has not ended and was used since an instant, as one cell: each request asks for it, and
-- eight columns take twice as long to be read as one.
SELECT JSON_OBJECT('id', p.id, 'sign_in', p.sign_in, 'name', p.name, 'role', p.role, 'session_epoch', p.session_epoch,
  'active', p.active, 'session_id', s.id, 'used_at', s.used_at)
FROM sign_in_session s JOIN person p ON p.id = s.person_id AND p.session_epoch = s.epoch
WHERE s.token_hash = :token_hash AND s.ended_at IS NULL AND s.used_at >= :since;

-- name: used_session(session_id, at)!
-- A session was used.
UPDATE sign_in_session SET used_at = :at WHERE id = :session_id;

-- name: sessions_of(person_id, since)
-- Sessions of a person that have not ended, the last used first.
SELECT s.id, s.address, s.device, s.created_at, s.used_at
FROM sign_in_session s JOIN person p ON p.id = s.person_id AND p.session_epoch = s.epoch
WHERE s.person_id = :person_id AND s.ended_at IS NULL AND s.used_at >= :since ORDER BY s.used_at DESC, s.id DESC;

-- name: end_session(session_id, person_id, at)!
-- Sign out of one session.
UPDATE sign_in_session SET ended_at = :at WHERE id = :session_id AND person_id = :person_id AND ended_at IS NULL;

-- name: move_sessions(seconds)!
-- The clock was set by so many seconds: sessions were last used as much later.
UPDATE sign_in_session SET used_at = TIMESTAMPADD(MICROSECOND, ROUND(1000000 * :seconds), used_at)
WHERE ended_at IS NULL;
