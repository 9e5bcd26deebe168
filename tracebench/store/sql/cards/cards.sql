-- name: add(course_id, author_id, title, document, at)$
-- A draft card.
INSERT INTO card (course_id, author_id, title, document, created_at, changed_at)
VALUES (:course_id, :author_id, :title, :document, :at, :at)
RETURNING id;

-- name: by_id(card_id)^
-- One card as it is being worked on.
SELECT c.id, c.course_id, c.author_id, p.name AS author, c.title, c.state, c.revision, c.document, c.changed_at, c.reach
FROM card c JOIN person p ON p.id = c.author_id WHERE c.id = :card_id;

-- name: set_reach(card_id, reach)!
-- Who reaches a card.
UPDATE card SET reach = :reach WHERE id = :card_id;

-- name: hand_over(from_id, to_id)!
-- Every card of one person becomes another's.
UPDATE card SET author_id = :to_id WHERE author_id = :from_id;

-- name: of_the_school(person_id)
-- Published cards of courses that an instructor is not in, which the school may copy.
SELECT c.id, k.title AS course, p.name AS author, v.document
FROM card c JOIN course k ON k.id = c.course_id JOIN person p ON p.id = c.author_id
JOIN card_version v ON v.card_id = c.id AND v.version = (SELECT MAX(version) FROM card_version WHERE card_id = c.id)
WHERE c.reach = 'school' AND c.state <> 'retired'
  AND NOT EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = c.course_id AND m.person_id = :person_id)
ORDER BY k.title, c.id;

-- name: of_courses_of(person_id)
-- Cards of the courses a person belongs to, with the newest version and how many sittings wait.
SELECT c.id, c.course_id, k.title AS course, c.title, c.state, c.document, c.changed_at, c.author_id, c.reach,
  v.id AS version_id, v.version, v.document AS version_document,
  (SELECT COUNT(*) FROM sitting s JOIN card_version w ON w.id = s.card_version_id
   WHERE w.card_id = c.id AND s.trial = FALSE) AS sittings,
  (SELECT COUNT(*) FROM sitting s JOIN card_version w ON w.id = s.card_version_id
   WHERE w.card_id = c.id AND s.state = 'handed_in' AND s.trial = FALSE) AS waiting
FROM card c JOIN course k ON k.id = c.course_id JOIN course_member m ON m.course_id = c.course_id
LEFT JOIN card_version v ON v.card_id = c.id
  AND v.version = (SELECT MAX(version) FROM card_version WHERE card_id = c.id)
WHERE m.person_id = :person_id ORDER BY c.state = 'retired', c.id;

-- name: save_draft(card_id, revision, title, document, at)!
-- Save work on a card; nothing happens if someone else saved since `revision`.
UPDATE card SET title = :title, document = :document, revision = revision + 1, changed_at = :at
WHERE id = :card_id AND revision = :revision;

-- name: set_state(card_id, state, at)!
-- Draft, published or retired.
UPDATE card SET state = :state, changed_at = :at WHERE id = :card_id;

-- name: latest_version(card_id)^
-- The newest published version.
SELECT id, version, document FROM card_version WHERE card_id = :card_id ORDER BY version DESC LIMIT 1;

-- name: publish(card_id, version, document, at)$
-- An immutable version.
INSERT INTO card_version (card_id, version, document, published_at) VALUES (:card_id, :version, :document, :at)
RETURNING id;
