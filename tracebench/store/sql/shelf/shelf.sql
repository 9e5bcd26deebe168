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

-- name: add_with_uid(author_id, capture_id, circuit, title, document, uid, state, created_at, at)$
-- A reference as it came in a bundle.
INSERT INTO reference (author_id, capture_id, circuit, title, document, uid, state, created_at, changed_at)
VALUES (:author_id, :capture_id, :circuit, :title, :document, :uid, :state, :created_at, :at)
RETURNING id;

-- name: by_uid(uid, person_id)^
-- The reference of that name in every school that has it, with what tells whether a person sees it.
SELECT r.id, r.author_id, r.title, r.state, r.revision, r.document, r.reach, c.fingerprint,
  EXISTS (SELECT 1 FROM reference_version v WHERE v.reference_id = r.id) AS was_published,
  EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id) AS of_course
FROM reference r JOIN capture c ON c.id = r.capture_id WHERE r.uid = :uid;

-- name: uid_of(reference_id)$
-- What a reference is called in bundles.
SELECT uid FROM reference WHERE id = :reference_id;

-- name: whole_versions(reference_id)
-- Published versions with all that is in them, oldest first.
SELECT v.version, v.capture_id, v.title, v.document, v.answer, v.published_at, p.name AS author, c.fingerprint
FROM reference_version v JOIN person p ON p.id = v.author_id JOIN capture c ON c.id = v.capture_id
WHERE v.reference_id = :reference_id ORDER BY v.version;

-- name: take_over(reference_id, title, document, state, at)!
-- Work that came in a bundle, in place of work that was in it already.
UPDATE reference SET title = :title, document = :document, state = :state, revision = revision + 1, changed_at = :at
WHERE id = :reference_id;

-- name: all_of(person_id)
-- Every reference that a person changes.
SELECT id FROM reference WHERE author_id = :person_id ORDER BY id;

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

-- name: list_anew(reference_id)!
-- What lists tell of a reference and the words it is found by, after any change of it or of its newest version.
UPDATE reference r LEFT JOIN reference_version v ON v.reference_id = r.id
  AND v.version = (SELECT MAX(w.version) FROM reference_version w WHERE w.reference_id = r.id)
SET r.latest_version_id = v.id, r.call_said = JSON_VALUE(v.answer, '$.call'),
  r.listing = JSON_OBJECT(
    'version', v.version, 'because', JSON_COMPACT(COALESCE(JSON_QUERY(v.answer, '$.because'), '[]')),
    'provenance', JSON_COMPACT(COALESCE(JSON_QUERY(r.document, '$.provenance'), '{}')),
    'options', JSON_COMPACT(COALESCE(JSON_QUERY(r.document, '$.options'), '{}')),
    'tags', COALESCE(JSON_LENGTH(r.document, '$.tags'), 0)),
  r.words = LEFT(CONCAT_WS(' ', r.title, REPLACE(r.circuit, '-', ' '),
    JSON_VALUE(r.document, '$.provenance.vehicle'), JSON_VALUE(r.document, '$.provenance.engine'),
    JSON_VALUE(r.document, '$.provenance.conditions'), JSON_VALUE(r.document, '$.provenance.part'),
    JSON_VALUE(r.document, '$.notes'), JSON_EXTRACT(r.document, '$.tags[*].text'),
    REPLACE(JSON_EXTRACT(v.answer, '$.because[*]'), '_', ' ')), 15000)
WHERE r.id = :reference_id;

-- name: on_shelf(person_id, circuit, state, call_said, collection, search, beginnings, like_words, size, after_rows)$
-- A page of the references in a person's reach, newest change first, as one cell: thirty rows of twelve columns take
-- longer to be read than to be found. An empty filter lets all pass; no state given leaves out what is retired.
SELECT JSON_ARRAYAGG(JSON_OBJECT('id', r.id, 'capture_id', r.capture_id, 'circuit', r.circuit, 'title', r.title,
  'state', r.state, 'changed_at', r.changed_at, 'author', p.name, 'reach', r.reach, 'version_id', r.latest_version_id,
  'call', r.call_said, 'listing', JSON_COMPACT(r.listing), 'picture', REPLACE(TO_BASE64(c.picture), '\n', ''))
  ORDER BY r.changed_at DESC, r.id DESC)
FROM (SELECT r.id FROM reference r
  WHERE (r.author_id = :person_id OR (r.reach = 'school' AND r.latest_version_id IS NOT NULL) OR (r.reach = 'course'
      AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id)))
    AND (:circuit = '' OR r.circuit = :circuit)
    AND (r.state = :state OR (:state = '' AND r.state <> 'retired'))
    AND (:call_said = '' OR r.call_said = :call_said)
    AND (:collection = ''
      OR EXISTS (SELECT 1 FROM collection_item i WHERE i.reference_id = r.id AND i.name = :collection))
    AND (:search = '' OR MATCH (r.words) AGAINST (:search IN BOOLEAN MODE))
    AND (:beginnings = '' OR r.words REGEXP :beginnings)
    AND (:like_words = '' OR r.words LIKE :like_words)
  ORDER BY r.changed_at DESC, r.id DESC LIMIT :size OFFSET :after_rows) found
JOIN reference r ON r.id = found.id JOIN person p ON p.id = r.author_id JOIN capture c ON c.id = r.capture_id;

-- name: newest_with(beginnings, most)$
-- How many of the newest references have words that begin so.
SELECT COUNT(*) FROM (SELECT words FROM reference ORDER BY changed_at DESC, id DESC LIMIT :most) newest
WHERE words REGEXP :beginnings;

-- name: count_on_shelf(person_id, circuit, state, call_said, collection, search, beginnings, like_words)$
-- How many references there are of which that is a page.
SELECT COUNT(*) FROM reference r
WHERE (r.author_id = :person_id OR (r.reach = 'school' AND r.latest_version_id IS NOT NULL) OR (r.reach = 'course'
    AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id)))
  AND (:circuit = '' OR r.circuit = :circuit)
  AND (r.state = :state OR (:state = '' AND r.state <> 'retired'))
  AND (:call_said = '' OR r.call_said = :call_said)
  AND (:collection = ''
    OR EXISTS (SELECT 1 FROM collection_item i WHERE i.reference_id = r.id AND i.name = :collection))
  AND (:search = '' OR MATCH (r.words) AGAINST (:search IN BOOLEAN MODE))
  AND (:beginnings = '' OR r.words REGEXP :beginnings)
  AND (:like_words = '' OR r.words LIKE :like_words);

-- name: fleet(person_id, circuit, part)
-- What was measured of every sound reference in reach of one design, a capture counted once.
SELECT r.id, r.title, c.fingerprint, JSON_QUERY(v.answer, '$.readings') AS readings
FROM reference r JOIN reference_version v ON v.id = r.latest_version_id JOIN capture c ON c.id = v.capture_id
WHERE r.circuit = :circuit AND r.state <> 'retired' AND r.call_said = 'sound'
  AND JSON_VALUE(v.document, '$.provenance.part') = :part
  AND (r.author_id = :person_id OR r.reach = 'school' OR (r.reach = 'course'
    AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id)))
ORDER BY r.id;

-- name: offered(person_id, circuit, version_id, size)
-- Newest published versions that a card of a circuit may take, and the one it has.
SELECT v.id AS version_id, v.version, v.title, r.id, r.circuit, JSON_QUERY(v.document, '$.options') AS options
FROM reference r JOIN reference_version v ON v.id = r.latest_version_id OR (v.id = :version_id AND v.reference_id = r.id)
WHERE (r.author_id = :person_id OR r.reach = 'school' OR (r.reach = 'course'
    AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id)))
  AND ((r.circuit = :circuit AND r.state <> 'retired') OR v.id = :version_id)
ORDER BY v.id = :version_id DESC, r.changed_at DESC LIMIT :size;

-- name: save_draft(reference_id, revision, title, document, at)!
-- Save work on a reference; nothing happens if someone else saved since `revision`.
UPDATE reference SET title = :title, document = :document, revision = revision + 1, changed_at = :at
WHERE id = :reference_id AND revision = :revision;

-- name: set_capture(reference_id, revision, capture_id, document, at)!
-- The reference shows another capture of the same samples; nothing happens if someone else saved since `revision`.
UPDATE reference SET capture_id = :capture_id, document = :document, revision = revision + 1, changed_at = :at
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

-- name: collections(person_id)
-- Collections of what a person reaches, and how many there are in each.
SELECT i.name, COUNT(*) AS items FROM collection_item i JOIN reference r ON r.id = i.reference_id
WHERE r.state <> 'retired'
  AND (r.author_id = :person_id OR (r.reach = 'school' AND r.latest_version_id IS NOT NULL) OR (r.reach = 'course'
    AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id)))
GROUP BY i.name ORDER BY i.name;

-- name: collect(name, reference_id)!
-- Put a reference into a collection; once is enough.
INSERT IGNORE INTO collection_item (name, reference_id) VALUES (:name, :reference_id);

-- name: take_out(name, reference_id)!
-- Take a reference out of a collection.
DELETE FROM collection_item WHERE name = :name AND reference_id = :reference_id;

-- name: last_review(reference_id, revision)^
-- The newest review of a revision, and who said it.
SELECT v.reviewer_id, p.name AS `by`, v.fine, v.note, v.reviewed_at AS at
FROM reference_review v JOIN person p ON p.id = v.reviewer_id
WHERE v.reference_id = :reference_id AND v.revision = :revision ORDER BY v.id DESC LIMIT 1;

-- name: review(reference_id, revision, reviewer_id, fine, note, at)!
-- A second instructor's word on a revision.
INSERT INTO reference_review (reference_id, revision, reviewer_id, fine, note, reviewed_at)
VALUES (:reference_id, :revision, :reviewer_id, :fine, :note, :at);

-- name: wants_review(reference_id)$
-- 1 where the course that a reference is of wants a second instructor's look before it is published.
SELECT COUNT(*) FROM reference r JOIN course c ON c.id = r.course_id
WHERE r.id = :reference_id AND r.reach = 'course' AND c.review;
