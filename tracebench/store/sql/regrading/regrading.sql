-- name: marked(course_id)
-- Sittings of a course whose marks were worked out, those of one capture beside each other.
SELECT s.id FROM sitting s JOIN card_version v ON v.id = s.card_version_id JOIN card c ON c.id = v.card_id
WHERE c.course_id = :course_id AND s.trial = FALSE AND s.state <> 'open' AND s.standing IS NOT NULL
ORDER BY s.capture_id, s.id;

-- name: add_run(course_id, author_id, newest, total, at)$
-- A comparison of all marks of a course with what would be given now.
INSERT INTO regrade_run (course_id, author_id, newest, total, created_at)
VALUES (:course_id, :author_id, :newest, :total, :at)
RETURNING id;

-- name: latest_run(course_id)^
-- The newest comparison of a course.
SELECT r.id, r.newest, r.total, r.created_at, p.name AS author,
  (SELECT COUNT(*) FROM regrade_row w WHERE w.run_id = r.id) AS done
FROM regrade_run r JOIN person p ON p.id = r.author_id WHERE r.course_id = :course_id ORDER BY r.id DESC LIMIT 1;

-- name: add_row(run_id, sitting_id, grade_run_id, card_version_id, grade, measured, changes, problem)!
-- What one sitting would be given now; again does nothing.
INSERT IGNORE INTO regrade_row
  (run_id, sitting_id, grade_run_id, card_version_id, grade, measured, changes, problem)
VALUES (:run_id, :sitting_id, :grade_run_id, :card_version_id, :grade, :measured, :changes, :problem);

-- name: rows_of(run_id)
-- Sittings of a comparison whose marks would change, or could not be worked out.
SELECT w.sitting_id, p.name AS learner, s.title, s.attempt, s.state, w.changes, w.problem, w.taken_at
FROM regrade_row w JOIN sitting s ON s.id = w.sitting_id JOIN person p ON p.id = s.learner_id
WHERE w.run_id = :run_id AND (w.changes <> '[]' OR w.problem IS NOT NULL) ORDER BY s.title, p.name, w.sitting_id;

-- name: row_to_take(run_id, sitting_id)^
-- One sitting of a comparison, held while its marks are taken over.
SELECT w.grade_run_id, w.card_version_id, w.grade, w.measured, w.changes, w.taken_at, r.course_id
FROM regrade_row w JOIN regrade_run r ON r.id = w.run_id
WHERE w.run_id = :run_id AND w.sitting_id = :sitting_id FOR UPDATE;

-- name: set_taken(run_id, sitting_id, at)!
-- Its marks were taken over.
UPDATE regrade_row SET taken_at = :at WHERE run_id = :run_id AND sitting_id = :sitting_id;

-- name: newest_version(card_id)^
-- The newest published version of a card.
SELECT id, document FROM card_version WHERE card_id = :card_id ORDER BY version DESC LIMIT 1;

-- name: card_version(version_id)^
-- One version of a card.
SELECT id, document FROM card_version WHERE id = :version_id;
