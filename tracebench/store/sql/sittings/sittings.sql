-- name: add(card_version_id, learner_id, trial, practice, attempt, title, at, ends_at)$
-- A new sitting.
INSERT INTO sitting (card_version_id, learner_id, trial, practice, attempt, title, answers, started_at, saved_at, ends_at)
VALUES (:card_version_id, :learner_id, :trial, :practice, :attempt, :title, '{}', :at, :at, :ends_at)
RETURNING id;

-- name: by_id(sitting_id)^
-- One sitting with its card version and course.
SELECT s.id, s.card_version_id, s.learner_id, p.name AS learner, s.trial, s.attempt, s.state, s.capture_id, s.answers, s.hints,
  s.revision, s.started_at, s.saved_at, s.handed_in_at, s.released_at, s.practice, s.ends_at, v.document AS card, v.card_id, c.course_id
FROM sitting s JOIN card_version v ON v.id = s.card_version_id JOIN card c ON c.id = v.card_id
JOIN person p ON p.id = s.learner_id WHERE s.id = :sitting_id;

-- name: under_way(course_id, most)
-- Open sittings of a course's learners, the one saved last first.
SELECT s.id, s.card_version_id, s.learner_id, p.name AS learner, s.trial, s.attempt, s.state, s.capture_id, s.answers, s.hints,
  s.revision, s.started_at, s.saved_at, s.handed_in_at, s.released_at, s.practice, s.ends_at, v.document AS card, v.card_id, c.course_id
FROM sitting s JOIN card_version v ON v.id = s.card_version_id JOIN card c ON c.id = v.card_id
JOIN person p ON p.id = s.learner_id
WHERE c.course_id = :course_id AND s.state = 'open' AND s.trial = FALSE ORDER BY s.saved_at DESC, s.id LIMIT :most;

-- name: set_end(sitting_id, ends_at)!
-- When its time is up.
UPDATE sitting SET ends_at = :ends_at WHERE id = :sitting_id;

-- name: lock_by_id(sitting_id)$
-- Hold a sitting while it changes.
SELECT id FROM sitting WHERE id = :sitting_id FOR UPDATE;

-- name: of_learner(learner_id)
-- A learner's sittings, newest first, with what stands of the marks of those that are released.
SELECT s.id, s.attempt, s.state, s.trial, s.practice, s.started_at, s.saved_at, s.handed_in_at, s.released_at, v.card_id, s.title,
  JSON_VALUE(v.document, '$.due') AS due,
  IF(s.state = 'released', s.standing, NULL) AS standing
FROM sitting s JOIN card_version v ON v.id = s.card_version_id
WHERE s.learner_id = :learner_id ORDER BY s.id DESC;

-- name: of_card_and_learner(card_id, learner_id)
-- All attempts of a learner at a card, whichever version.
SELECT s.id, s.attempt, s.state FROM sitting s JOIN card_version v ON v.id = s.card_version_id
WHERE v.card_id = :card_id AND s.learner_id = :learner_id ORDER BY s.id;

-- name: attempts_of_learner(learner_id)
-- Every attempt of a learner, with its card.
SELECT v.card_id, s.id, s.attempt, s.state FROM sitting s JOIN card_version v ON v.id = s.card_version_id
WHERE s.learner_id = :learner_id ORDER BY s.id;

-- name: cards_not_released(learner_id)
-- Cards at which a learner has an attempt that is not released yet.
SELECT DISTINCT v.card_id FROM sitting s JOIN card_version v ON v.id = s.card_version_id
WHERE s.learner_id = :learner_id AND s.state <> 'released' AND s.trial = FALSE;

-- name: save_answers(sitting_id, answers, at)!
-- Save what was answered.
UPDATE sitting SET answers = :answers, revision = revision + 1, saved_at = :at WHERE id = :sitting_id AND state = 'open';

-- name: set_capture(sitting_id, capture_id, at)!
-- The capture a sitting works with.
UPDATE sitting SET capture_id = :capture_id, revision = revision + 1, saved_at = :at
WHERE id = :sitting_id AND state = 'open';

-- name: hand_in(sitting_id, at)!
-- From open to handed in.
UPDATE sitting SET state = 'handed_in', handed_in_at = :at, revision = revision + 1
WHERE id = :sitting_id AND state = 'open';

-- name: release(sitting_id, released_by, at)!
-- From handed in to released.
UPDATE sitting SET state = 'released', released_at = :at, released_by = :released_by, revision = revision + 1
WHERE id = :sitting_id AND state = 'handed_in';

-- name: add_grade_run(sitting_id, engine, inputs, measured, grade, at)$
-- What was graded, with what, and how.
INSERT INTO grade_run (sitting_id, engine, inputs, measured, grade, created_at)
VALUES (:sitting_id, :engine, :inputs, :measured, :grade, :at)
RETURNING id;

-- name: has_grade(sitting_id)$
-- Whether a sitting has been graded.
SELECT EXISTS (SELECT 1 FROM grade_run WHERE sitting_id = :sitting_id);

-- name: latest_grade(sitting_id)^
-- The newest grade run of a sitting.
SELECT id, engine, inputs, measured, grade, created_at FROM grade_run WHERE sitting_id = :sitting_id
ORDER BY id DESC LIMIT 1;

-- name: add_change(sitting_id, criterion, earned, reason, author_id, at)$
-- An instructor's change of one criterion's points.
INSERT INTO mark_change (sitting_id, criterion, earned, reason, author_id, at)
VALUES (:sitting_id, :criterion, :earned, :reason, :author_id, :at)
RETURNING id;

-- name: changes(sitting_id)
-- Changes of a sitting's marks, oldest first.
SELECT m.criterion, m.earned, m.reason, p.name AS author, m.at FROM mark_change m JOIN person p ON p.id = m.author_id
WHERE m.sitting_id = :sitting_id ORDER BY m.id;

-- name: to_settle(course_id, person_id, most)
-- Sittings of a course (no trials) that wait to be settled, with what stands of their marks: the least certain first, those
-- whose marks are still being worked out last. Found first, and only then their texts. What the person is to mark a second
-- time unseen is left out. Joined as written: another order is not found any sooner.
SELECT STRAIGHT_JOIN s.id, p.name AS learner, s.attempt, s.handed_in_at, first.card_id, s.title, s.standing,
  l.words AS asked,
  EXISTS (SELECT 1 FROM sitting_likeness k WHERE k.sitting_id = s.id)
    OR EXISTS (SELECT 1 FROM sitting_likeness k WHERE k.other_id = s.id) AS alike
FROM (SELECT s.id, v.card_id, COALESCE(JSON_VALUE(s.standing, '$.certainty') + 0.0, 2.0) AS certainty
  FROM card c JOIN card_version v ON v.card_id = c.id JOIN sitting s ON s.card_version_id = v.id
  WHERE c.course_id = :course_id AND s.trial = FALSE AND s.state = 'handed_in'
    AND NOT EXISTS (SELECT 1 FROM second_mark m
      WHERE m.sitting_id = s.id AND m.marker_id = :person_id AND m.done_at IS NULL)
  ORDER BY certainty, s.handed_in_at, s.id LIMIT :most) first
JOIN sitting s ON s.id = first.id JOIN person p ON p.id = s.learner_id
LEFT JOIN second_look l ON l.sitting_id = s.id AND l.answered_at IS NULL
ORDER BY first.certainty, s.handed_in_at, s.id;

-- name: first_to_settle(course_ids, person_id, most)
-- The first of the same in several courses, with the little that a list of them tells, and how many there are in all.
SELECT STRAIGHT_JOIN s.id, p.name AS learner, s.attempt, s.handed_in_at, s.title, s.standing, first.in_all
FROM (SELECT s.id, COUNT(*) OVER () AS in_all, COALESCE(JSON_VALUE(s.standing, '$.certainty') + 0.0, 2.0) AS certainty
  FROM card c JOIN card_version v ON v.card_id = c.id JOIN sitting s ON s.card_version_id = v.id
  WHERE c.course_id IN :course_ids AND s.trial = FALSE AND s.state = 'handed_in'
    AND NOT EXISTS (SELECT 1 FROM second_mark m
      WHERE m.sitting_id = s.id AND m.marker_id = :person_id AND m.done_at IS NULL)
  ORDER BY certainty, s.handed_in_at, s.id LIMIT :most) first
JOIN sitting s ON s.id = first.id JOIN person p ON p.id = s.learner_id
ORDER BY first.certainty, s.handed_in_at, s.id;

-- name: settled(course_id, person_id, most)
-- The last sittings of a course that were released, the latest first; found first, and only then their texts.
SELECT STRAIGHT_JOIN s.id, p.name AS learner, s.attempt, s.handed_in_at, s.released_at, last.card_id, s.title,
  s.standing, l.words AS asked,
  EXISTS (SELECT 1 FROM sitting_likeness k WHERE k.sitting_id = s.id)
    OR EXISTS (SELECT 1 FROM sitting_likeness k WHERE k.other_id = s.id) AS alike
FROM (SELECT s.id, v.card_id
  FROM card c JOIN card_version v ON v.card_id = c.id JOIN sitting s ON s.card_version_id = v.id
  WHERE c.course_id = :course_id AND s.trial = FALSE AND s.practice = FALSE AND s.state = 'released'
    AND NOT EXISTS (SELECT 1 FROM second_mark m
    WHERE m.sitting_id = s.id AND m.marker_id = :person_id AND m.done_at IS NULL)
  ORDER BY s.released_at DESC, s.id DESC LIMIT :most) last
JOIN sitting s ON s.id = last.id JOIN person p ON p.id = s.learner_id
LEFT JOIN second_look l ON l.sitting_id = s.id AND l.answered_at IS NULL;

-- name: released(course_ids)
-- The criteria of every released sitting of courses that counts, in no order: what skill is estimated from.
SELECT s.id, s.learner_id, v.card_id, s.title, s.handed_in_at, s.criteria, c.course_id
FROM card c JOIN card_version v ON v.card_id = c.id JOIN sitting s ON s.card_version_id = v.id
WHERE c.course_id IN :course_ids AND s.trial = FALSE AND s.practice = FALSE AND s.state = 'released' AND s.criteria IS NOT NULL;

-- name: released_digest(course_ids)$
-- One word of all that `released` tells of courses: another as soon as any of it is another.
SELECT CONCAT(COUNT(*), ' ', COALESCE(BIT_XOR(CAST(CONV(LEFT(MD5(CONCAT_WS('|', s.id, s.learner_id, v.card_id, s.title,
  s.handed_in_at, s.criteria, c.course_id)), 16), 16, 10) AS UNSIGNED)), 0))
FROM card c JOIN card_version v ON v.card_id = c.id JOIN sitting s ON s.card_version_id = v.id
WHERE c.course_id IN :course_ids AND s.trial = FALSE AND s.practice = FALSE AND s.state = 'released' AND s.criteria IS NOT NULL;

-- name: practised(course_id, learner_id, most)
-- A learner's last practice in a course, the latest first, with what the tool made of it.
SELECT s.id, s.title, s.handed_in_at, s.standing FROM sitting s JOIN card_version v ON v.id = s.card_version_id
JOIN card c ON c.id = v.card_id
WHERE s.learner_id = :learner_id AND c.course_id = :course_id AND s.practice = TRUE AND s.state = 'released'
ORDER BY s.handed_in_at DESC, s.id DESC LIMIT :most;

-- name: set_standing(sitting_id, standing, criteria)!
-- What stands of a sitting's marks, in all and by criterion, kept beside it for lists.
UPDATE sitting SET standing = :standing, criteria = :criteria WHERE id = :sitting_id;

-- name: without_standing(most)
-- Sittings marked before what stands was kept beside them.
SELECT s.id FROM sitting s WHERE s.standing IS NULL AND s.state <> 'open'
  AND EXISTS (SELECT 1 FROM grade_run g WHERE g.sitting_id = s.id) ORDER BY s.id LIMIT :most;

-- name: others_of_card(card_id, sitting_id, learner_id, limit_rows)
-- Other learners' handed-in sittings of a card, the latest first.
SELECT s.id, s.card_version_id, s.learner_id, p.name AS learner, s.trial, s.attempt, s.state, s.capture_id, s.answers, s.hints,
  s.revision, s.started_at, s.saved_at, s.handed_in_at, s.released_at, s.practice, s.ends_at, v.document AS card, v.card_id, c.course_id
FROM sitting s JOIN card_version v ON v.id = s.card_version_id JOIN card c ON c.id = v.card_id
JOIN person p ON p.id = s.learner_id
WHERE v.card_id = :card_id AND s.id <> :sitting_id AND s.learner_id <> :learner_id AND s.state <> 'open' AND s.trial = FALSE
ORDER BY s.id DESC LIMIT :limit_rows;

-- name: others_of_circuit(circuit, card_id, sitting_id, learner_id, limit_rows)
-- Captures of other learners' handed-in sittings of other cards of a circuit, in the whole school, the latest first.
SELECT s.id, s.capture_id
FROM sitting s JOIN card_version v ON v.id = s.card_version_id
WHERE v.listed_circuit = :circuit AND v.card_id <> :card_id AND s.id <> :sitting_id AND s.learner_id <> :learner_id
  AND s.state <> 'open' AND s.trial = FALSE AND s.capture_id IS NOT NULL
ORDER BY s.id DESC LIMIT :limit_rows;

-- name: on_the_shelf(circuit, before, limit_rows)
-- Captures of the references of a circuit that were published before, the latest first: one made from a sitting came after.
SELECT r.id, v.capture_id
FROM reference r JOIN reference_version v ON v.reference_id = r.id
WHERE r.circuit = :circuit AND r.state = 'published' AND v.published_at < :before
  AND v.version = (SELECT MAX(w.version) FROM reference_version w WHERE w.reference_id = r.id)
ORDER BY r.id DESC LIMIT :limit_rows;

-- name: of_the_trainer(circuit, learner_id, capture_id, before, limit_rows)
-- Captures of a circuit that the trainer gave anybody before, the latest first: without those in others' sittings and on
-- the shelf, which are looked at by themselves.
SELECT c.id
FROM capture c
WHERE c.circuit = :circuit AND c.origin = 'trainer' AND c.id <> :capture_id AND c.created_at < :before
  AND NOT EXISTS (SELECT 1 FROM sitting s WHERE s.capture_id = c.id AND s.learner_id <> :learner_id)
  AND NOT EXISTS (SELECT 1 FROM reference_version v WHERE v.capture_id = c.id)
ORDER BY c.id DESC LIMIT :limit_rows;

-- name: add_likeness(sitting_id, other_id, reference_id, capture_id, kind, about)!
-- What a sitting has in common with an earlier one, or its capture with one of the shelf or of the trainer.
INSERT INTO sitting_likeness (sitting_id, other_id, reference_id, capture_id, kind, about)
VALUES (:sitting_id, :other_id, :reference_id, :capture_id, :kind, :about);

-- name: likenesses(sitting_id)
-- What a sitting has in common with others, earlier and later, with the shelf, and with what the trainer gave somebody.
SELECT l.kind, l.about, s.id AS sitting_id, p.name AS learner, r.id AS reference_id, r.title AS reference,
  COALESCE(l.capture_id, s.capture_id, r.capture_id) AS capture_id, w.name AS given_to
FROM sitting_likeness l
LEFT JOIN sitting s ON s.id = IF(l.sitting_id = :sitting_id, l.other_id, l.sitting_id)
LEFT JOIN person p ON p.id = s.learner_id
LEFT JOIN reference r ON r.id = l.reference_id
LEFT JOIN capture c ON c.id = l.capture_id
LEFT JOIN person w ON w.id = c.owner_id
WHERE l.sitting_id = :sitting_id OR l.other_id = :sitting_id ORDER BY s.id, r.id, l.capture_id, l.kind;

-- name: set_seen(sitting_id, at)!
-- The learner has seen the marks; the first time counts.
UPDATE sitting SET seen_at = :at WHERE id = :sitting_id AND state = 'released' AND seen_at IS NULL;

-- name: take_back(sitting_id)!
-- From released to handed in, while the learner has not seen it or asks for a second look.
UPDATE sitting s SET s.state = 'handed_in', s.released_at = NULL, s.released_by = NULL, s.seen_at = NULL,
  s.revision = s.revision + 1
WHERE s.id = :sitting_id AND s.state = 'released' AND s.practice = FALSE AND (s.seen_at IS NULL
  OR EXISTS (SELECT 1 FROM second_look l WHERE l.sitting_id = s.id AND l.answered_at IS NULL));

-- name: ask_again(sitting_id, words, at)!
-- A learner asks for a second look at a released sitting; once.
INSERT IGNORE INTO second_look (sitting_id, words, asked_at) VALUES (:sitting_id, :words, :at);

-- name: answer_asked(sitting_id, at)!
-- The second look that was asked for is done.
UPDATE second_look SET answered_at = :at WHERE sitting_id = :sitting_id AND answered_at IS NULL;

-- name: second_look(sitting_id)^
-- What a learner asked for, and whether it was answered.
SELECT words, asked_at, answered_at FROM second_look WHERE sitting_id = :sitting_id;

-- name: waiting_of_version(card_version_id, sitting_id)
-- Other sittings of the same version of a card that wait to be settled.
SELECT s.id, p.name AS learner FROM sitting s JOIN person p ON p.id = s.learner_id
WHERE s.card_version_id = :card_version_id AND s.id <> :sitting_id AND s.state = 'handed_in' AND s.trial = FALSE
  AND s.standing IS NOT NULL ORDER BY s.handed_in_at, s.id;

-- name: set_hints(sitting_id, hints)!
-- Steps whose hint was taken.
UPDATE sitting SET hints = :hints, revision = revision + 1 WHERE id = :sitting_id;

-- name: move_ends(seconds)!
-- The clock was set by so many seconds: open sittings with a time limit end as much later.
UPDATE sitting SET ends_at = TIMESTAMPADD(MICROSECOND, ROUND(1000000 * :seconds), ends_at)
WHERE state = 'open' AND ends_at IS NOT NULL;
