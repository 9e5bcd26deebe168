CREATE TABLE inbox_item (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  owner_id INT UNSIGNED NOT NULL,
  upload_id INT UNSIGNED NULL,
  job_id BIGINT UNSIGNED NULL,
  filename VARCHAR(255) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  problem VARCHAR(500) NULL,
  looked LONGTEXT NULL CHECK (looked IS NULL OR JSON_VALID(looked)),
  reference_id INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL,
  KEY by_owner (owner_id, id),
  FOREIGN KEY (owner_id) REFERENCES person (id),
  FOREIGN KEY (upload_id) REFERENCES upload (id) ON DELETE CASCADE,
  FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE SET NULL,
  FOREIGN KEY (reference_id) REFERENCES reference (id)
);
