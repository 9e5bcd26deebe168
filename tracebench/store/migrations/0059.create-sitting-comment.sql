CREATE TABLE sitting_comment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sitting_id INT UNSIGNED NOT NULL,
  author_id INT UNSIGNED NOT NULL,
  from_s DOUBLE NOT NULL,
  to_s DOUBLE NOT NULL,
  words VARCHAR(1000) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  FOREIGN KEY (sitting_id) REFERENCES sitting (id),
  FOREIGN KEY (author_id) REFERENCES person (id)
);
