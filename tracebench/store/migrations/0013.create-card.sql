CREATE TABLE card (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  course_id INT UNSIGNED NOT NULL,
  author_id INT UNSIGNED NOT NULL,
  title VARCHAR(160) NOT NULL,
  state ENUM('draft','published','retired') NOT NULL DEFAULT 'draft',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  document LONGTEXT NOT NULL CHECK (JSON_VALID(document)),
  created_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  FOREIGN KEY (course_id) REFERENCES course (id),
  FOREIGN KEY (author_id) REFERENCES person (id)
);
