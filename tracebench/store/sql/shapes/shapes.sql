-- name: not_outlined(person_id, circuit, size)
-- Newest published versions of a circuit in a person's reach whose outlines were not made yet.
SELECT v.id, v.capture_id, v.answer FROM reference r JOIN reference_version v ON v.id = r.latest_version_id
WHERE r.circuit = :circuit AND r.state <> 'retired'
  AND (r.author_id = :person_id OR r.reach = 'school' OR (r.reach = 'course'
    AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id)))
  AND NOT EXISTS (SELECT 1 FROM outlined o WHERE o.version_id = v.id)
ORDER BY v.id DESC LIMIT :size;

-- name: set_outlined(version_id)!
-- A version's outlines are made; again does nothing.
INSERT IGNORE INTO outlined (version_id) VALUES (:version_id);

-- name: add(version_id, lane, name, sweep, from_s, to_s, packed)!
-- An outline of a version; again does nothing.
INSERT IGNORE INTO outline (version_id, lane, name, sweep, from_s, to_s, packed)
VALUES (:version_id, :lane, :name, :sweep, :from_s, :to_s, :packed);

-- name: of_fleet(person_id, circuit, part)
-- Outlines of every sound published reference in reach of one design, with what tells captures apart.
SELECT o.version_id, o.lane, o.name, o.sweep, o.from_s, o.to_s, o.packed, COALESCE(c.fingerprint, c.id) AS samples_of
FROM reference r JOIN reference_version v ON v.id = r.latest_version_id JOIN capture c ON c.id = v.capture_id
JOIN outline o ON o.version_id = v.id
WHERE r.circuit = :circuit AND r.state <> 'retired' AND r.call_said = 'sound'
  AND JSON_VALUE(v.document, '$.provenance.part') = :part
  AND (r.author_id = :person_id OR r.reach = 'school' OR (r.reach = 'course'
    AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id)))
ORDER BY o.version_id, o.lane, o.name, o.sweep;

-- name: alike(person_id, circuit, lane, name)
-- One stretch of every published reference of a circuit in reach: all its sweeps in one row, which costs half the time.
SELECT r.id AS reference_id, GROUP_CONCAT(o.packed ORDER BY o.sweep SEPARATOR '') AS packed,
  GROUP_CONCAT(LENGTH(o.packed) ORDER BY o.sweep) AS lengths
FROM reference r JOIN outline o ON o.version_id = r.latest_version_id
WHERE r.circuit = :circuit AND r.state <> 'retired' AND o.lane = :lane AND o.name = :name
  AND (r.author_id = :person_id OR r.reach = 'school' OR (r.reach = 'course'
    AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id)))
GROUP BY r.id;

-- name: titles(ids)
-- Titles and calls of references by a JSON list of their ids.
SELECT r.id, r.title, r.call_said AS `call`
FROM JSON_TABLE(:ids, '$[*]' COLUMNS (id INT UNSIGNED PATH '$')) asked JOIN reference r ON r.id = asked.id;
