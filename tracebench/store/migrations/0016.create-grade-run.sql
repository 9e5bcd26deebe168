CREATE TABLE grade_run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sitting_id INT UNSIGNED NOT NULL,
  engine VARCHAR(32) NOT NULL,
  inputs LONGTEXT NOT NULL CHECK (JSON_VALID(inputs)),
  measured LONGTEXT NULL CHECK (measured IS NULL OR JSON_VALID(measured)),
  grade LONGTEXT NOT NULL CHECK (JSON_VALID(grade)),
  created_at DATETIME(3) NOT NULL,
  KEY by_sitting (sitting_id, id),
  FOREIGN KEY (sitting_id) REFERENCES sitting (id)
);
