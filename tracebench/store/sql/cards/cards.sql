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

-- name: of_courses_of(person_id)$
-- Cards of the courses that an instructor belongs to, as they are being worked on, with how many sittings wait: as one
-- cell, as forty rows of sixteen columns take longer to be read than to be found.
SELECT JSON_ARRAYAGG(JSON_OBJECT('id', c.id, 'course_id', c.course_id, 'course', k.title, 'title', c.title,
  'state', c.state, 'version', COALESCE((SELECT MAX(v.version) FROM card_version v WHERE v.card_id = c.id), 0),
  'circuit', c.listed_circuit, 'source', c.listed_source, 'due', c.listed_due, 'opens', c.listed_opens,
  'minutes', c.listed_minutes, 'mode', c.listed_mode, 'attempts', c.listed_attempts, 'steps', c.listed_steps,
  'sittings', COALESCE(n.sittings, 0), 'waiting', COALESCE(n.waiting, 0)) ORDER BY c.state = 'retired', c.id)
FROM course_member m JOIN card c ON c.course_id = m.course_id JOIN course k ON k.id = c.course_id
LEFT JOIN (SELECT v.card_id, COUNT(*) AS sittings, CAST(SUM(s.state = 'handed_in') AS SIGNED) AS waiting
  FROM course_member m JOIN card c ON c.course_id = m.course_id JOIN card_version v ON v.card_id = c.id
  JOIN sitting s ON s.card_version_id = v.id
  WHERE m.person_id = :person_id AND s.trial = FALSE GROUP BY v.card_id) n ON n.card_id = c.id
-- Somebody else's own card is theirs until it is published; then its sittings are the course's.
WHERE m.person_id = :person_id AND (c.reach <> 'own' OR c.author_id = :person_id
  OR EXISTS (SELECT 1 FROM card_version v WHERE v.card_id = c.id));

-- name: in_hand(person_id, today, most)
-- The cards that matter to an instructor today: published ones by the day they are due, then what was last worked on.
SELECT c.id, c.title, c.state, c.listed_due AS due,
  (SELECT COUNT(*) FROM card_version v JOIN sitting s ON s.card_version_id = v.id
   WHERE v.card_id = c.id AND s.trial = FALSE) AS sittings
FROM (SELECT c.id, ROW_NUMBER() OVER (ORDER BY c.state <> 'published', COALESCE(c.listed_due < :today, TRUE),
    c.listed_due, c.changed_at DESC, c.id) AS place
  FROM course_member m JOIN card c ON c.course_id = m.course_id
  WHERE m.person_id = :person_id AND c.state <> 'retired' AND (c.reach <> 'own' OR c.author_id = :person_id
    OR EXISTS (SELECT 1 FROM card_version v WHERE v.card_id = c.id))
  ORDER BY place LIMIT :most) first
JOIN card c ON c.id = first.id ORDER BY first.place;

-- name: of_learner(person_id)
-- The newest version of each card that a learner may begin, the first that is due first.
SELECT c.id, c.course_id, k.title AS course, JSON_VALUE(v.document, '$.title') AS title, 'published' AS state, v.version,
  v.listed_circuit AS circuit, v.listed_source AS source, v.listed_due AS due, v.listed_opens AS opens, CEIL(v.listed_minutes * (100 + m.extra_pct) / 100) AS minutes, v.listed_mode AS mode, v.listed_attempts AS attempts,
  v.listed_steps AS steps
FROM course_member m JOIN card c ON c.course_id = m.course_id JOIN course k ON k.id = c.course_id
JOIN card_version v ON v.card_id = c.id AND v.version = (SELECT MAX(version) FROM card_version WHERE card_id = c.id)
WHERE m.person_id = :person_id AND c.state <> 'retired' ORDER BY v.listed_due IS NULL, v.listed_due, c.id;

-- name: save_draft(card_id, revision, title, document, at)!
-- Save work on a card; nothing happens if someone else saved since `revision`.
UPDATE card SET title = :title, document = :document, revision = revision + 1, changed_at = :at
WHERE id = :card_id AND revision = :revision;

-- name: set_state(card_id, state, at)!
-- Draft, published or retired.
UPDATE card SET state = :state, changed_at = :at WHERE id = :card_id;

-- name: latest_version(card_id)^
-- The newest published version.
SELECT id, version, document, given_capture_id, given_version_id
FROM card_version WHERE card_id = :card_id ORDER BY version DESC LIMIT 1;

-- name: publish(card_id, version, document, given_capture_id, given_version_id, at)$
-- An immutable version, with the capture that it gives and the version of a reference that this is a copy of.
INSERT INTO card_version (card_id, version, document, given_capture_id, given_version_id, published_at)
VALUES (:card_id, :version, :document, :given_capture_id, :given_version_id, :at)
RETURNING id;

-- name: show_beside(card_version_id, step_id, version_id, capture_id)!
-- What a comparing step of a version shows: a copy of the capture of a reference's version.
INSERT INTO card_version_beside (card_version_id, step_id, version_id, capture_id)
VALUES (:card_version_id, :step_id, :version_id, :capture_id);

-- name: shown_beside(card_version_id)
-- What the comparing steps of a version show.
SELECT step_id, version_id, capture_id FROM card_version_beside WHERE card_version_id = :card_version_id ORDER BY step_id;
