-- name: take_turn(place)!
-- Tries of names that share a place are looked at one after the other: held until the transaction ends.
INSERT INTO sign_in_turn (place) VALUES (:place) ON DUPLICATE KEY UPDATE place = place;

-- name: knows(sign_in, device, address)^
-- Whether a device signed in under a name before, and an address.
SELECT EXISTS (SELECT 1 FROM known_device d JOIN person p ON p.id = d.person_id
    WHERE p.sign_in = :sign_in AND d.device = :device) AS device,
  EXISTS (SELECT 1 FROM sign_in_session s JOIN person p ON p.id = s.person_id
    WHERE s.address = :address AND p.sign_in = :sign_in) AS address;

-- name: tries_of_name(sign_in, came_from, minute, since)^
-- Wrong tries of a name: by this device in all, and when the last was; in the last minute by known devices, by others,
-- and by those of the others that had been wrong before, with when the first of that minute was.
SELECT COALESCE(SUM(came_from = :came_from), 0) AS by_pair, MAX(IF(came_from = :came_from, at, NULL)) AS last_by_pair,
  COALESCE(SUM(came_from = :came_from AND at > :minute), 0) AS by_pair_minute,
  MIN(IF(came_from = :came_from AND at > :minute, at, NULL)) AS first_by_pair,
  COALESCE(SUM(NOT known AND at > :minute), 0) AS by_others,
  MIN(IF(NOT known AND at > :minute, at, NULL)) AS first_by_others,
  COALESCE(SUM(again AND NOT known AND at > :minute), 0) AS by_again,
  MIN(IF(again AND NOT known AND at > :minute, at, NULL)) AS first_by_again
FROM sign_in_try WHERE sign_in = :sign_in AND at > :since;

-- name: tries_of_address(address, minute)^
-- Wrong tries of the last minute from an address, of names that never signed in from it.
SELECT COUNT(*) AS by_others, MIN(at) AS first_by_others, COALESCE(SUM(again), 0) AS by_again,
  MIN(IF(again, at, NULL)) AS first_by_again
FROM sign_in_try WHERE address = :address AND at > :minute AND strange;

-- name: tries_of_device(came_from, since)$
-- How many wrong tries a device made, whatever the name.
SELECT COUNT(*) FROM sign_in_try WHERE came_from = :came_from AND at > :since;

-- name: try_begins(sign_in, address, came_from, known, again, strange, at)$
-- A sign-in that will be looked at: counted as wrong before it is, so that many at once cannot pass together.
INSERT INTO sign_in_try (sign_in, address, came_from, known, again, strange, at)
VALUES (:sign_in, :address, :came_from, :known, :again, :strange, :at) RETURNING id;

-- name: was_right(sign_in, came_from)!
-- A right sign-in clears what its device had tried under its name.
DELETE FROM sign_in_try WHERE sign_in = :sign_in AND came_from = :came_from;

-- name: forget_tries(before)!
-- Old tries are of no use.
DELETE FROM sign_in_try WHERE at < :before;

-- name: know_device(person_id, device, at)!
-- A device that a person signed in on.
INSERT INTO known_device (person_id, device, used_at) VALUES (:person_id, :device, :at)
ON DUPLICATE KEY UPDATE used_at = :at;
