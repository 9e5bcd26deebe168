-- name: by_sign_in(sign_in)^
-- One person by the name they sign in with.
SELECT id, sign_in, name, role, password_hash, session_epoch, active FROM person WHERE sign_in = :sign_in;

-- name: any_to_be_sure()$
-- How many people there are, held so that nobody becomes the first beside another.
SELECT COUNT(*) FROM person FOR UPDATE;

-- name: everyone()
-- All people, by role and name, and whether they still have to choose a password.
SELECT id, sign_in, name, role, active, added_by, password_hash = '' AS invited FROM person ORDER BY role, name;

-- name: by_id(person_id)^
-- One person.
SELECT id, sign_in, name, role, active, session_epoch, added_by, password_hash = '' AS invited
FROM person WHERE id = :person_id;

-- name: add(sign_in, name, role, password_hash, added_by, at)$
-- A new person, and who brought them in.
INSERT INTO person (sign_in, name, role, password_hash, added_by, created_at)
VALUES (:sign_in, :name, :role, :password_hash, :added_by, :at) RETURNING id;

-- name: set_active(person_id, active)!
-- Let a person in or keep them out; ends their sessions.
UPDATE person SET active = :active, session_epoch = session_epoch + 1 WHERE id = :person_id;

-- name: set_password(person_id, password_hash)!
-- A new password; ends all sessions.
UPDATE person SET password_hash = :password_hash, session_epoch = session_epoch + 1 WHERE id = :person_id;

-- name: end_sessions(person_id)!
-- Sign out everywhere.
UPDATE person SET session_epoch = session_epoch + 1 WHERE id = :person_id;

-- name: school()$
-- What the school is called, NULL until it was said.
SELECT (SELECT name FROM school WHERE id = 1);

-- name: name_school(name)!
-- What the school is called.
INSERT INTO school (id, name) VALUES (1, :name) ON DUPLICATE KEY UPDATE name = :name;
