-- name: ask_second_mark(sitting_id, marker_id, asked_by, at)!
-- A second marker for a sitting, once.
INSERT IGNORE INTO second_mark (sitting_id, marker_id, asked_by, asked_at) VALUES (:sitting_id, :marker_id, :asked_by, :at);

-- name: second_mark(sitting_id)^
-- Who marks a sitting a second time, and what came of it.
SELECT m.sitting_id, m.marker_id, p.name AS marker, m.asked_by, a.name AS asker, m.asked_at, m.done_at, m.marks, m.words
FROM second_mark m JOIN person p ON p.id = m.marker_id JOIN person a ON a.id = m.asked_by
WHERE m.sitting_id = :sitting_id;

-- name: to_mark_again(marker_id)
-- What somebody is asked to mark a second time, without whose it is.
SELECT m.sitting_id AS id, s.title, a.name AS asker, m.asked_at
FROM second_mark m JOIN sitting s ON s.id = m.sitting_id JOIN person a ON a.id = m.asked_by
WHERE m.marker_id = :marker_id AND m.done_at IS NULL ORDER BY m.asked_at, m.sitting_id;

-- name: keep_second_mark(sitting_id, marks, words, at)!
-- The marks of a second marker, given once.
UPDATE second_mark SET marks = :marks, words = :words, done_at = :at WHERE sitting_id = :sitting_id AND done_at IS NULL;

-- name: withdraw_second_mark(sitting_id)!
-- A second marking that is not wanted any more, while it is not done.
DELETE FROM second_mark WHERE sitting_id = :sitting_id AND done_at IS NULL;

-- name: second_marks_of_course(course_id)
-- The second marks that are done in a course.
SELECT m.sitting_id, m.marks FROM second_mark m JOIN sitting s ON s.id = m.sitting_id
JOIN card_version v ON v.id = s.card_version_id JOIN card c ON c.id = v.card_id
WHERE c.course_id = :course_id AND m.done_at IS NOT NULL ORDER BY m.sitting_id;
