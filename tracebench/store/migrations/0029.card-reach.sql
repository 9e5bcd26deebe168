ALTER TABLE card ADD COLUMN reach ENUM('own','course','school') NOT NULL DEFAULT 'course';
