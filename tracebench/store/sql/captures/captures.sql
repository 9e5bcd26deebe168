-- name: add(owner_id, circuit, title, origin, samples, source_samples, interval_s, start_s, detail, picture, at)$
-- A capture's head; its lanes follow in the same transaction.
INSERT INTO capture (owner_id, circuit, title, origin, samples, source_samples, interval_s, start_s, detail,
  picture, created_at)
VALUES (:owner_id, :circuit, :title, :origin, :samples, :source_samples, :interval_s, :start_s, :detail,
  :picture, :at)
RETURNING id;

-- name: add_lane(capture_id, lane, place, unit, column_name, factor, lowest, highest, dtype, code_values)!
-- One lane of a capture.
INSERT INTO capture_lane (capture_id, lane, place, unit, column_name, factor, lowest, highest, dtype, code_values)
VALUES (:capture_id, :lane, :place, :unit, :column_name, :factor, :lowest, :highest, :dtype, :code_values);

-- name: add_chunk(capture_id, lane, chunk_no, packed)!
-- 65,536 samples of a lane, compressed.
INSERT INTO capture_chunk (capture_id, lane, chunk_no, packed) VALUES (:capture_id, :lane, :chunk_no, :packed);

-- name: add_envelope(capture_id, lane, factor, packed)!
-- One level of a lane's min/max pyramid, compressed.
INSERT INTO capture_envelope (capture_id, lane, factor, packed) VALUES (:capture_id, :lane, :factor, :packed);

-- name: by_id(capture_id)$
-- A capture's head with its lanes as one cell, which is read sooner than a dozen.
SELECT JSON_OBJECT('id', c.id, 'owner_id', c.owner_id, 'circuit', c.circuit, 'title', c.title, 'origin', c.origin,
  'samples', c.samples, 'source_samples', c.source_samples, 'interval_s', c.interval_s, 'start_s', c.start_s,
  'detail', JSON_COMPACT(c.detail), 'created_at', c.created_at,
  'lanes', (SELECT JSON_ARRAYAGG(JSON_OBJECT('lane', l.lane, 'place', l.place, 'unit', l.unit,
    'column_name', l.column_name, 'factor', l.factor, 'lowest', l.lowest, 'highest', l.highest, 'dtype', l.dtype)
    ORDER BY l.place) FROM capture_lane l WHERE l.capture_id = c.id))
FROM capture c WHERE c.id = :capture_id;

-- name: fingerprint(capture_id)$
-- The name of a capture's samples.
SELECT fingerprint FROM capture WHERE id = :capture_id;

-- name: lane_codings(capture_id)
-- How the codes of each lane turn into values.
SELECT lane, dtype, code_values FROM capture_lane WHERE capture_id = :capture_id;

-- name: lane_coding(capture_id, lane)^
-- How a lane's codes turn into values.
SELECT l.dtype, l.code_values, c.samples FROM capture_lane l JOIN capture c ON c.id = l.capture_id
WHERE l.capture_id = :capture_id AND l.lane = :lane;

-- name: chunks(capture_id, lane, first_no, last_no)
-- Chunks of a lane in order, both ends included.
SELECT chunk_no, packed FROM capture_chunk
WHERE capture_id = :capture_id AND lane = :lane AND chunk_no BETWEEN :first_no AND :last_no ORDER BY chunk_no;

-- name: envelope_level(capture_id, lane, factor)^
-- One level of the pyramid.
SELECT packed FROM capture_envelope WHERE capture_id = :capture_id AND lane = :lane AND factor = :factor;

-- name: learner_may_see(capture_id, person_id)$
-- Captures a learner owns or sits with, what a card of theirs shows beside, or the reference of a card that they have
-- had released, unless they sit it again; neither of the last two once they have left its course.
SELECT (SELECT COUNT(*) FROM capture WHERE id = :capture_id AND owner_id = :person_id)
  + (SELECT COUNT(*) FROM sitting g WHERE g.learner_id = :person_id AND g.capture_id = :capture_id)
  + (SELECT COUNT(*) FROM card_version_beside b JOIN sitting s ON s.card_version_id = b.card_version_id
     JOIN card_version v ON v.id = b.card_version_id JOIN card c ON c.id = v.card_id
     JOIN course_member m ON m.course_id = c.course_id AND m.person_id = :person_id
     WHERE b.capture_id = :capture_id AND s.learner_id = :person_id)
  + (SELECT COUNT(*) FROM sitting s JOIN card_version v ON v.id = s.card_version_id
     JOIN reference_version r ON r.id = JSON_VALUE(v.document, '$.reference_version_id')
     JOIN card c ON c.id = v.card_id JOIN course_member m ON m.course_id = c.course_id AND m.person_id = :person_id
     WHERE s.learner_id = :person_id AND s.state = 'released' AND r.capture_id = :capture_id
     AND NOT EXISTS (SELECT 1 FROM sitting o JOIN card_version w ON w.id = o.card_version_id
       WHERE w.card_id = v.card_id AND o.learner_id = :person_id AND o.state <> 'released'));

-- name: sits_with(capture_id, person_id)$
-- Whether a learner has a sitting with that capture, or one that shows it beside.
SELECT EXISTS (SELECT 1 FROM sitting WHERE learner_id = :person_id AND capture_id = :capture_id)
  OR EXISTS (SELECT 1 FROM card_version_beside b JOIN sitting s ON s.card_version_id = b.card_version_id
     WHERE b.capture_id = :capture_id AND s.learner_id = :person_id);

-- name: instructor_may_see(capture_id, person_id)$
-- Captures an instructor owns, of references in their reach or on cards of theirs, raw ones that those were made of,
-- or that a learner of theirs sat with.
SELECT (SELECT COUNT(*) FROM capture WHERE id = :capture_id AND owner_id = :person_id)
  + (SELECT COUNT(*) FROM reference r WHERE r.capture_id = :capture_id AND (r.author_id = :person_id
     OR (r.reach = 'school' AND EXISTS (SELECT 1 FROM reference_version v WHERE v.reference_id = r.id))
     OR (r.reach = 'course'
       AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id))))
  + (SELECT COUNT(*) FROM capture d JOIN reference r ON r.capture_id = d.id
     WHERE d.raw_id = :capture_id AND (r.author_id = :person_id
       OR (r.reach = 'school' AND EXISTS (SELECT 1 FROM reference_version v WHERE v.reference_id = r.id))
       OR (r.reach = 'course'
         AND EXISTS (SELECT 1 FROM course_member m WHERE m.course_id = r.course_id AND m.person_id = :person_id))))
  + (SELECT COUNT(*) FROM reference_version r JOIN card_version v
       ON JSON_VALUE(v.document, '$.reference_version_id') = r.id
     JOIN card c ON c.id = v.card_id JOIN course_member m ON m.course_id = c.course_id
     WHERE r.capture_id = :capture_id AND m.person_id = :person_id)
  + (SELECT COUNT(*) FROM card_version_beside b JOIN card_version v ON v.id = b.card_version_id
     JOIN card c ON c.id = v.card_id JOIN course_member m ON m.course_id = c.course_id
     WHERE b.capture_id = :capture_id AND m.person_id = :person_id)
  + (SELECT COUNT(*) FROM sitting s JOIN card_version v ON v.id = s.card_version_id JOIN card c ON c.id = v.card_id
     JOIN course_member m ON m.course_id = c.course_id
     WHERE s.capture_id = :capture_id AND m.person_id = :person_id);

-- name: copy_head(capture_id, owner_id, title, at)$
-- The same capture under another owner, without what its file was called.
INSERT INTO capture (owner_id, circuit, title, origin, samples, source_samples, interval_s, start_s, detail,
  fingerprint, stored_bytes, picture, created_at)
SELECT :owner_id, circuit, :title, origin, samples, source_samples, interval_s, start_s,
  JSON_REMOVE(JSON_INSERT(detail, '$.filename', ''), '$.filename'), fingerprint, stored_bytes, picture, :at
FROM capture WHERE id = :capture_id RETURNING id;

-- name: copy_lanes(capture_id, copy_id)!
-- Its lanes.
INSERT INTO capture_lane (capture_id, lane, place, unit, column_name, factor, lowest, highest, dtype, code_values)
SELECT :copy_id, lane, place, unit, column_name, factor, lowest, highest, dtype, code_values
FROM capture_lane WHERE capture_id = :capture_id;

-- name: copy_chunks(capture_id, copy_id)!
-- Its samples.
INSERT INTO capture_chunk (capture_id, lane, chunk_no, packed)
SELECT :copy_id, lane, chunk_no, packed FROM capture_chunk WHERE capture_id = :capture_id;

-- name: copy_envelopes(capture_id, copy_id)!
-- Its pyramid.
INSERT INTO capture_envelope (capture_id, lane, factor, packed)
SELECT :copy_id, lane, factor, packed FROM capture_envelope WHERE capture_id = :capture_id;

-- name: set_raw(capture_id, raw_id)!
-- The capture whose samples it was made of.
UPDATE capture SET raw_id = :raw_id WHERE id = :capture_id;

-- name: raw_of(capture_id)$
-- The capture as it was recorded: another where this one was made by steps, else itself.
SELECT COALESCE(raw_id, id) FROM capture WHERE id = :capture_id;

-- name: set_picture(capture_id, picture)!
-- Its first lane in miniature.
UPDATE capture SET picture = :picture WHERE id = :capture_id;

-- name: set_stored(capture_id, stored_bytes, fingerprint)!
-- How much of the disk its samples and pyramid take, and the name of the samples.
UPDATE capture SET stored_bytes = :stored_bytes, fingerprint = :fingerprint WHERE id = :capture_id;

-- name: stored_bytes_of(owner_id)$
-- How much of the disk a person's captures take.
SELECT COALESCE(SUM(stored_bytes), 0) FROM capture WHERE owner_id = :owner_id;

-- name: unused(owner_id)
-- Captures of a person that no reference, sitting, note or record holds, newest first.
SELECT c.id, c.circuit, c.title, c.origin, c.samples, c.stored_bytes, c.created_at FROM capture c
WHERE c.owner_id = :owner_id
  AND NOT EXISTS (SELECT 1 FROM reference r WHERE r.capture_id = c.id)
  AND NOT EXISTS (SELECT 1 FROM reference_version v WHERE v.capture_id = c.id)
  AND NOT EXISTS (SELECT 1 FROM sitting s WHERE s.capture_id = c.id)
  AND NOT EXISTS (SELECT 1 FROM capture_record k WHERE k.capture_id = c.id)
  AND NOT EXISTS (SELECT 1 FROM card_version w WHERE w.given_capture_id = c.id)
  AND NOT EXISTS (SELECT 1 FROM card_version_beside b WHERE b.capture_id = c.id)
  AND NOT EXISTS (SELECT 1 FROM capture d WHERE d.raw_id = c.id)
  AND NOT EXISTS (SELECT 1 FROM sitting_likeness l WHERE l.capture_id = c.id)
ORDER BY c.id DESC;

-- name: give_up(capture_id, owner_id)!
-- A capture goes with its samples; foreign keys refuse where anything holds it.
DELETE FROM capture WHERE id = :capture_id AND owner_id = :owner_id;

-- name: add_upload(owner_id, filename, stored_as, bytes, at)$
-- A file that waits for its mapping.
INSERT INTO upload (owner_id, filename, stored_as, bytes, created_at)
VALUES (:owner_id, :filename, :stored_as, :bytes, :at) RETURNING id;

-- name: upload_of(upload_id, owner_id)^
-- A waiting file of its owner.
SELECT id, filename, stored_as FROM upload WHERE id = :upload_id AND owner_id = :owner_id;

-- name: hold_upload(upload_id, owner_id)^
-- A waiting file of its owner, held: whoever comes second finds it gone when the first is done.
SELECT id FROM upload WHERE id = :upload_id AND owner_id = :owner_id FOR UPDATE;

-- name: drop_upload(upload_id)!
-- The file was imported or given up.
DELETE FROM upload WHERE id = :upload_id;

-- name: waiting_of(owner_id)^
-- How many files of a person wait, and how large they are together.
SELECT COUNT(*) AS files, COALESCE(SUM(bytes), 0) AS bytes FROM upload WHERE owner_id = :owner_id;

-- name: every_upload()
-- All files that wait.
SELECT id, stored_as FROM upload;

-- name: uploads_before(before)
-- Waiting files nobody came back to.
SELECT id, stored_as FROM upload WHERE created_at < :before;

-- name: add_record(capture_id, sitting_id, kind, document, author_id, at)$
-- A record typed beside a capture: resistances, voltages, a log. It may be a part of a learner's sitting.
INSERT INTO capture_record (capture_id, sitting_id, kind, document, author_id, created_at)
VALUES (:capture_id, :sitting_id, :kind, :document, :author_id, :at)
RETURNING id;

-- name: records_of(capture_id)
-- Records beside a capture that nobody took away, oldest first.
SELECT r.id, r.capture_id, r.kind, r.document, r.created_at, p.name AS author
FROM capture_record r JOIN person p ON p.id = r.author_id
WHERE r.capture_id = :capture_id AND r.removed_at IS NULL
ORDER BY r.id;

-- name: records_of_sitting(sitting_id)
-- Records of a sitting that nobody took away, oldest first, whichever of its captures they were typed beside.
SELECT r.id, r.capture_id, r.kind, r.document, r.created_at, p.name AS author
FROM capture_record r JOIN person p ON p.id = r.author_id
WHERE r.sitting_id = :sitting_id AND r.removed_at IS NULL
ORDER BY r.id;

-- name: take_sitting_record_away(record_id, sitting_id, at)!
-- A record of a sitting taken away stays in the table with the instant.
UPDATE capture_record SET removed_at = :at
WHERE id = :record_id AND sitting_id = :sitting_id AND removed_at IS NULL;

-- name: take_record_away(record_id, capture_id, at)!
-- A record taken away stays in the table with the instant.
UPDATE capture_record SET removed_at = :at
WHERE id = :record_id AND capture_id = :capture_id AND removed_at IS NULL;
