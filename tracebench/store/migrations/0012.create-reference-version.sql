CREATE TABLE reference_version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  reference_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  capture_id INT UNSIGNED NOT NULL,
  title VARCHAR(160) NOT NULL,
  document LONGTEXT NOT NULL CHECK (JSON_VALID(document)),
  answer LONGTEXT NOT NULL CHECK (JSON_VALID(answer)),
  author_id INT UNSIGNED NOT NULL,
  published_at DATETIME(3) NOT NULL,
  UNIQUE KEY one_version (reference_id, version),
  FOREIGN KEY (reference_id) REFERENCES reference (id),
  FOREIGN KEY (capture_id) REFERENCES capture (id),
  FOREIGN KEY (author_id) REFERENCES person (id)
);
