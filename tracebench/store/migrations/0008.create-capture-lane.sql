CREATE TABLE capture_lane (
  capture_id INT UNSIGNED NOT NULL,
  lane VARCHAR(32) NOT NULL,
  place TINYINT UNSIGNED NOT NULL,
  unit VARCHAR(16) NOT NULL,
  column_name VARCHAR(255) NOT NULL,
  factor DOUBLE NOT NULL,
  lowest DOUBLE NOT NULL,
  highest DOUBLE NOT NULL,
  dtype VARCHAR(16) NOT NULL,
  code_values LONGBLOB NULL,
  PRIMARY KEY (capture_id, lane),
  FOREIGN KEY (capture_id) REFERENCES capture (id) ON DELETE CASCADE
);
