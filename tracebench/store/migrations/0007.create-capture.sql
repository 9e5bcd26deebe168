CREATE TABLE capture (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  owner_id INT UNSIGNED NOT NULL,
  circuit VARCHAR(64) NOT NULL,
  title VARCHAR(255) NOT NULL,
  origin ENUM('file','trainer') NOT NULL,
  samples INT UNSIGNED NOT NULL,
  source_samples INT UNSIGNED NOT NULL,
  interval_s DOUBLE NOT NULL,
  start_s DOUBLE NOT NULL,
  detail LONGTEXT NOT NULL CHECK (JSON_VALID(detail)),
  created_at DATETIME(3) NOT NULL,
  FOREIGN KEY (owner_id) REFERENCES person (id)
);
