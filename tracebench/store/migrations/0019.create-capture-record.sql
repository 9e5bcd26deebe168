CREATE TABLE capture_record (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  capture_id INT UNSIGNED NOT NULL,
  kind VARCHAR(32) NOT NULL,
  document LONGTEXT NOT NULL,
  author_id INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  removed_at DATETIME(3) NULL,
  KEY by_capture (capture_id, id),
  FOREIGN KEY (capture_id) REFERENCES capture (id),
  FOREIGN KEY (author_id) REFERENCES person (id)
);
