CREATE TABLE card_version_beside (
  card_version_id INT UNSIGNED NOT NULL,
  step_id VARCHAR(160) NOT NULL,
  version_id INT UNSIGNED NOT NULL,
  capture_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (card_version_id, step_id),
  CONSTRAINT beside_of FOREIGN KEY (card_version_id) REFERENCES card_version (id),
  CONSTRAINT beside_shows FOREIGN KEY (capture_id) REFERENCES capture (id)
);
