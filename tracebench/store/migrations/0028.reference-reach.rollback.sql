ALTER TABLE reference DROP FOREIGN KEY reference_of_course, DROP COLUMN course_id, DROP COLUMN reach;
