CREATE TABLE reference (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  author_id INT UNSIGNED NOT NULL,
  capture_id INT UNSIGNED NOT NULL,
  circuit VARCHAR(64) NOT NULL,
  title VARCHAR(160) NOT NULL,
  state ENUM('draft','published','retired') NOT NULL DEFAULT 'draft',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  document LONGTEXT NOT NULL CHECK (JSON_VALID(document)),
  created_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  FOREIGN KEY (author_id) REFERENCES person (id),
  FOREIGN KEY (capture_id) REFERENCES capture (id)
);
