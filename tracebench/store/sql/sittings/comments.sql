-- name: add_comment(sitting_id, author_id, from_s, to_s, words, at)$
-- A comment pinned to a sitting's trace.
INSERT INTO sitting_comment (sitting_id, author_id, from_s, to_s, words, created_at)
VALUES (:sitting_id, :author_id, :from_s, :to_s, :words, :at)
RETURNING id;

-- name: comments(sitting_id)
-- What instructors pinned to a sitting's trace, in the order of the trace.
SELECT c.id, c.from_s AS `from`, c.to_s AS `to`, c.words, p.name AS author
FROM sitting_comment c JOIN person p ON p.id = c.author_id WHERE c.sitting_id = :sitting_id ORDER BY c.from_s, c.id;

-- name: take_comment_away(sitting_id, comment_id)!
-- A comment that is not meant after all.
DELETE FROM sitting_comment WHERE id = :comment_id AND sitting_id = :sitting_id;
