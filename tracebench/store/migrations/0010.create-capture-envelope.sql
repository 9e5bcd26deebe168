CREATE TABLE capture_envelope (
  capture_id INT UNSIGNED NOT NULL,
  lane VARCHAR(32) NOT NULL,
  factor INT UNSIGNED NOT NULL,
  packed LONGBLOB NOT NULL,
  PRIMARY KEY (capture_id, lane, factor),
  FOREIGN KEY (capture_id, lane) REFERENCES capture_lane (capture_id, lane) ON DELETE CASCADE
);
