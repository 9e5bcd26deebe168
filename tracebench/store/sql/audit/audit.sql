-- name: add(at, person_id, who, action, about, about_id, title, changes, why)!
-- One more line of the trail; nothing ever changes or takes one away.
INSERT INTO audit (at, person_id, who, action, about, about_id, title, changes, why)
VALUES (:at, :person_id, :who, :action, :about, :about_id, :title, :changes, :why);

-- name: page(before_id, about, about_id, person_id, most)
-- The newest lines before one, of one kind of thing, thing or person where those are given.
SELECT id, at, person_id, who, action, about, about_id, title, changes, why FROM audit
WHERE id < :before_id AND (:about IS NULL OR about = :about) AND (:about_id IS NULL OR about_id = :about_id)
  AND (:person_id IS NULL OR person_id = :person_id)
ORDER BY id DESC LIMIT :most;
