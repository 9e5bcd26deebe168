-- name: add(owner_id, upload_id, filename, bytes, problem, at)$
-- A file of many that were brought in together; one that is none has a problem from the beginning.
INSERT INTO inbox_item (owner_id, upload_id, filename, bytes, problem, created_at)
VALUES (:owner_id, :upload_id, :filename, :bytes, :problem, :at) RETURNING id;

-- name: set_job(item_id, job_id)!
-- The job that looks at it, or makes a draft of it.
UPDATE inbox_item SET job_id = :job_id, problem = NULL WHERE id = :item_id;

-- name: keep_look(item_id, looked)!
-- What it holds, as far as the tool can tell.
UPDATE inbox_item SET looked = :looked WHERE id = :item_id;

-- name: keep_reference(item_id, reference_id)!
-- A draft was made of it; its file is no longer needed.
UPDATE inbox_item SET reference_id = :reference_id, upload_id = NULL WHERE id = :item_id;

-- name: by_id(item_id, owner_id)^
-- One file of its owner.
SELECT i.id, i.owner_id, i.upload_id, i.filename, i.problem, i.looked, i.reference_id, u.stored_as
FROM inbox_item i LEFT JOIN upload u ON u.id = i.upload_id WHERE i.id = :item_id AND i.owner_id = :owner_id;

-- name: hold(item_id, owner_id)^
-- One file of its owner, held, and what its job is at.
SELECT i.id, i.filename, i.looked, i.reference_id, j.kind AS job_kind, j.state AS job_state
FROM inbox_item i LEFT JOIN job j ON j.id = i.job_id WHERE i.id = :item_id AND i.owner_id = :owner_id FOR UPDATE;

-- name: of_owner(owner_id)
-- A person's files, the first sent first, with how far the job of each is.
SELECT i.id, i.filename, i.bytes, i.looked, i.reference_id, i.created_at, i.job_id, j.kind AS job_kind,
  j.state AS job_state, COALESCE(i.problem, j.problem) AS problem
FROM inbox_item i LEFT JOIN job j ON j.id = i.job_id WHERE i.owner_id = :owner_id ORDER BY i.id;

-- name: drop_item(item_id, owner_id)!
-- It is given up, or was dealt with.
DELETE FROM inbox_item WHERE id = :item_id AND owner_id = :owner_id;

-- name: profile(owner_id, layout, circuit)^
-- How a person mapped a file of this layout to a circuit the last time.
SELECT mapping, interval_s FROM mapping_profile
WHERE owner_id = :owner_id AND layout = :layout AND circuit = :circuit;

-- name: keep_profile(owner_id, layout, circuit, mapping, interval_s, at)!
-- Remember it for the next one.
INSERT INTO mapping_profile (owner_id, layout, circuit, mapping, interval_s, used_at)
VALUES (:owner_id, :layout, :circuit, :mapping, :interval_s, :at)
ON DUPLICATE KEY UPDATE mapping = :mapping, interval_s = :interval_s, used_at = :at;
