-- name: by_sign_in(sign_in)^
-- One person by the name they sign in with.
SELECT id, sign_in, name, role, password_hash, session_epoch, active FROM person WHERE sign_in = :sign_in;

-- name: by_id(person_id)^
-- One person.
SELECT id, sign_in, name, role, session_epoch, active FROM person WHERE id = :person_id;

-- name: everyone()
-- All people, by role and name.
SELECT id, sign_in, name, role, active FROM person ORDER BY role, name;

-- name: add(sign_in, name, role, password_hash, at)$
-- A new person.
INSERT INTO person (sign_in, name, role, password_hash, created_at) VALUES (:sign_in, :name, :role, :password_hash, :at)
RETURNING id;

-- name: set_active(person_id, active)!
-- Let a person in or keep them out; ends their sessions.
UPDATE person SET active = :active, session_epoch = session_epoch + 1 WHERE id = :person_id;

-- name: set_password(person_id, password_hash)!
-- A new password; ends all sessions.
UPDATE person SET password_hash = :password_hash, session_epoch = session_epoch + 1 WHERE id = :person_id;

-- name: end_sessions(person_id)!
-- Sign out everywhere.
UPDATE person SET session_epoch = session_epoch + 1 WHERE id = :person_id;

-- name: failed(sign_in, address, at)!
-- Remember a failed sign-in.
INSERT INTO sign_in_failure (sign_in, address, at) VALUES (:sign_in, :address, :at);

-- name: failures(sign_in, address, since)^
-- Failed sign-ins by name and by address since an instant.
SELECT COALESCE(SUM(sign_in = :sign_in), 0) AS by_name, COALESCE(SUM(address = :address), 0) AS by_address
FROM sign_in_failure WHERE at >= :since AND (sign_in = :sign_in OR address = :address);

-- name: forget_failures(sign_in, before)!
-- A successful sign-in clears the count of its name; old failures are of no use.
DELETE FROM sign_in_failure WHERE sign_in = :sign_in OR at < :before;
