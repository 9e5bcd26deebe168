-- name: add(author_id, capture_id, circuit, title, document, at)$
-- A draft reference.
INSERT INTO reference (author_id, capture_id, circuit, title, document, created_at, changed_at)
VALUES (:author_id, :capture_id, :circuit, :title, :document, :at, :at)
RETURNING id;

-- name: by_id(reference_id, person_id)^
-- One reference as it is being worked on; whether it was ever published, and whether a person is of its course.
SELECT r.id, r.author_id, p.name AS author, r.capture_id, r.circuit, r.title, r.state, r.revision, r.document,
  r.created_at, r.changed_at, r.reach, r.course_id,
  EXISTS (SELECT 1 FROM reference_version v WHERE v.reference_id = r.id) AS was_published,
  EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id) AS of_course
FROM reference r JOIN person p ON p.id = r.author_id WHERE r.id = :reference_id;

-- name: of_same_samples(fingerprint, person_id)
-- References of captures with the very samples that bear a name, with what tells whether a person sees them.
SELECT r.id, r.title, r.state, r.author_id, r.reach,
  EXISTS (SELECT 1 FROM reference_version v WHERE v.reference_id = r.id) AS was_published,
  EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id) AS of_course
FROM capture c JOIN reference r ON r.capture_id = c.id
WHERE c.fingerprint = :fingerprint ORDER BY r.id;

-- name: kept_answer(reference_id, engine)$
-- What the core says of a reference as it stands now, if this engine has said it.
SELECT answer FROM reference WHERE id = :reference_id AND answer_revision = revision AND answer_engine = :engine;

-- name: keep_answer(reference_id, revision, engine, answer)!
-- Keep what the core says of a reference, if it still stands as it was measured.
UPDATE reference SET answer = :answer, answer_revision = :revision, answer_engine = :engine
WHERE id = :reference_id AND revision = :revision;

-- name: lock_by_id(reference_id)^
-- Hold a reference while it is published.
SELECT id, revision FROM reference WHERE id = :reference_id FOR UPDATE;

-- name: set_reach(reference_id, reach, course_id)!
-- Who reaches a reference.
UPDATE reference SET reach = :reach, course_id = :course_id WHERE id = :reference_id;

-- name: hand_over(from_id, to_id)!
-- Every reference of one person becomes another's.
UPDATE reference SET author_id = :to_id WHERE author_id = :from_id;

-- name: of_capture(capture_id)^
-- The newest reference made of a capture.
SELECT id, circuit, document FROM reference WHERE capture_id = :capture_id ORDER BY id DESC LIMIT 1;

-- name: on_shelf(person_id)
-- Every reference in a person's reach with its newest version, in no order: a sort would carry the texts along.
SELECT r.id, r.capture_id, r.circuit, r.title, r.state, r.changed_at, p.name AS author, r.reach, v.version,
  v.id AS version_id, JSON_VALUE(v.answer, '$.call') AS `call`, JSON_QUERY(v.answer, '$.because') AS because,
  JSON_QUERY(r.document, '$.provenance') AS provenance, JSON_QUERY(r.document, '$.options') AS options,
  JSON_LENGTH(r.document, '$.tags') AS tags
FROM reference r JOIN person p ON p.id = r.author_id
LEFT JOIN reference_version v ON v.reference_id = r.id
  AND v.version = (SELECT MAX(version) FROM reference_version WHERE reference_id = r.id)
WHERE r.author_id = :person_id OR (r.reach = 'school' AND v.id IS NOT NULL) OR (r.reach = 'course'
  AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id));

-- name: save_draft(reference_id, revision, title, document, at)!
-- Save work on a reference; nothing happens if someone else saved since `revision`.
UPDATE reference SET title = :title, document = :document, revision = revision + 1, changed_at = :at
WHERE id = :reference_id AND revision = :revision;

-- name: set_state(reference_id, state, at)!
-- Draft, published or retired.
UPDATE reference SET state = :state, changed_at = :at WHERE id = :reference_id;

-- name: latest_version(reference_id)$
-- Number of the newest version, 0 if none.
SELECT COALESCE(MAX(version), 0) FROM reference_version WHERE reference_id = :reference_id;

-- name: publish(reference_id, version, capture_id, title, document, answer, author_id, at)$
-- An immutable version.
INSERT INTO reference_version (reference_id, version, capture_id, title, document, answer, author_id, published_at)
VALUES (:reference_id, :version, :capture_id, :title, :document, :answer, :author_id, :at)
RETURNING id;

-- name: versions(reference_id)
-- Published versions, newest first.
SELECT v.id, v.version, v.title, v.published_at, p.name AS author FROM reference_version v
JOIN person p ON p.id = v.author_id WHERE v.reference_id = :reference_id ORDER BY v.version DESC;

-- name: version_by_id(version_id)^
-- One published version with its answer.
SELECT v.id, v.reference_id, v.version, v.capture_id, v.title, v.document, v.answer, v.published_at, r.circuit
FROM reference_version v JOIN reference r ON r.id = v.reference_id WHERE v.id = :version_id;
