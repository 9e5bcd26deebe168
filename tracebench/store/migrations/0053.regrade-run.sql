CREATE TABLE regrade_run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  course_id INT UNSIGNED NOT NULL,
  author_id INT UNSIGNED NOT NULL,
  newest BOOLEAN NOT NULL,
  total INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY by_course (course_id, id),
  FOREIGN KEY (course_id) REFERENCES course (id),
  FOREIGN KEY (author_id) REFERENCES person (id)
);
