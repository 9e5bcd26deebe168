CREATE TABLE capture_chunk (
  capture_id INT UNSIGNED NOT NULL,
  lane VARCHAR(32) NOT NULL,
  chunk_no INT UNSIGNED NOT NULL,
  packed MEDIUMBLOB NOT NULL,
  PRIMARY KEY (capture_id, lane, chunk_no),
  FOREIGN KEY (capture_id, lane) REFERENCES capture_lane (capture_id, lane) ON DELETE CASCADE
);
