-- name: end_invitations(person_id)!
-- Links of a person that were not used are worth nothing any more.
DELETE FROM invitation WHERE person_id = :person_id AND used_at IS NULL;

-- name: invite(token_hash, person_id, at, ends_at)!
-- A link by which a person chooses a password.
INSERT INTO invitation (token_hash, person_id, created_at, ends_at) VALUES (:token_hash, :person_id, :at, :ends_at);

-- name: invited(token_hash, at)^
-- Whom an unused link is for, held until the transaction ends.
SELECT i.id, p.id AS person_id, p.sign_in, p.name, p.role, p.active, p.session_epoch
FROM invitation i JOIN person p ON p.id = i.person_id
WHERE i.token_hash = :token_hash AND i.used_at IS NULL AND i.ends_at > :at FOR UPDATE;

-- name: use_invitation(invitation_id, at)!
-- A link was used.
UPDATE invitation SET used_at = :at WHERE id = :invitation_id;
