-- name: of_person(person_id)
-- Courses a person belongs to.
SELECT c.id, c.title, c.review FROM course c JOIN course_member m ON m.course_id = c.id
WHERE m.person_id = :person_id ORDER BY c.title;

-- name: all_courses()
-- Every course.
SELECT id, title, review FROM course ORDER BY title;

-- name: add(title, at)$
-- A new course.
INSERT INTO course (title, created_at) VALUES (:title, :at)
RETURNING id;

-- name: join_course(course_id, person_id)!
-- Make a person a member; once is enough.
INSERT IGNORE INTO course_member (course_id, person_id) VALUES (:course_id, :person_id);

-- name: leave_course(course_id, person_id)!
-- End a membership; sittings stay.
DELETE FROM course_member WHERE course_id = :course_id AND person_id = :person_id;

-- name: members(course_id)
-- Members of a course, instructors first.
SELECT p.id, p.sign_in, p.name, p.role, p.active, p.added_by, p.password_hash = '' AS invited, m.extra_pct
FROM person p JOIN course_member m ON m.person_id = p.id
WHERE m.course_id = :course_id ORDER BY p.role, p.name;

-- name: set_extra_time(course_id, person_id, extra_pct)!
-- So much more time, in percent, a member has for every card with a limit.
UPDATE course_member SET extra_pct = :extra_pct WHERE course_id = :course_id AND person_id = :person_id;

-- name: extra_time(course_id, person_id)$
-- How much more time a member has, in percent; nothing for one who is no member.
SELECT extra_pct FROM course_member WHERE course_id = :course_id AND person_id = :person_id;

-- name: learners_of(course_ids)
-- Learners of courses.
SELECT p.id, p.name, m.course_id FROM person p JOIN course_member m ON m.person_id = p.id
WHERE m.course_id IN :course_ids AND p.role = 'learner' ORDER BY m.course_id, p.name, p.id;

-- name: place_of_learner(course_id, person_id)$
-- How many learners of a course come before one, in the order in which they were made.
SELECT COUNT(*) FROM person p JOIN course_member m ON m.person_id = p.id
WHERE m.course_id = :course_id AND p.role = 'learner' AND p.id < :person_id;

-- name: is_member(course_id, person_id)$
-- 1 if the person belongs to the course.
SELECT COUNT(*) FROM course_member WHERE course_id = :course_id AND person_id = :person_id;

-- name: by_id(course_id)^
-- One course.
SELECT id, title, review FROM course WHERE id = :course_id;

-- name: set_review(course_id, review)!
-- Whether a second instructor looks at the course's references before they are published.
UPDATE course SET review = :review WHERE id = :course_id;

-- name: elsewhere(asker_id, person_id)$
-- In how many courses somebody is that whoever asks does not belong to.
SELECT COUNT(*) FROM course_member o WHERE o.person_id = :person_id
  AND o.course_id NOT IN (SELECT m.course_id FROM course_member m WHERE m.person_id = :asker_id);

-- name: vehicles()
-- Training vehicles.
SELECT id, name, engine, bay FROM vehicle ORDER BY name;

-- name: add_vehicle(name, engine, bay)$
-- A new training vehicle.
INSERT INTO vehicle (name, engine, bay) VALUES (:name, :engine, :bay)
RETURNING id;
