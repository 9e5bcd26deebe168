ALTER TABLE reference
  ADD COLUMN reach ENUM('own','course','school') NOT NULL DEFAULT 'school',
  ADD COLUMN course_id INT UNSIGNED NULL,
  ADD CONSTRAINT reference_of_course FOREIGN KEY (course_id) REFERENCES course (id);
