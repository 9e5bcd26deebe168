CREATE TABLE regrade_row (
  run_id INT UNSIGNED NOT NULL,
  sitting_id INT UNSIGNED NOT NULL,
  grade_run_id INT UNSIGNED NULL,
  card_version_id INT UNSIGNED NOT NULL,
  grade LONGTEXT NULL CHECK (grade IS NULL OR JSON_VALID(grade)),
  measured LONGTEXT NULL CHECK (measured IS NULL OR JSON_VALID(measured)),
  changes LONGTEXT NOT NULL CHECK (JSON_VALID(changes)),
  problem VARCHAR(300) NULL,
  taken_at DATETIME(3) NULL,
  PRIMARY KEY (run_id, sitting_id),
  FOREIGN KEY (run_id) REFERENCES regrade_run (id),
  FOREIGN KEY (sitting_id) REFERENCES sitting (id)
);
