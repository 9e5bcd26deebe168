CREATE TABLE trainer_run (
  sitting_id INT UNSIGNED NOT NULL PRIMARY KEY,
  number INT UNSIGNED NOT NULL,
  started_at DATETIME(3) NOT NULL,
  waited_s DOUBLE NOT NULL DEFAULT 0,
  base_s DOUBLE NOT NULL DEFAULT 0,
  settings TEXT NOT NULL CHECK (JSON_VALID(settings)),
  FOREIGN KEY (sitting_id) REFERENCES sitting (id)
);

CREATE TABLE trainer_move (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sitting_id INT UNSIGNED NOT NULL,
  at_s DOUBLE NOT NULL,
  control VARCHAR(16) CHARACTER SET ascii NOT NULL,
  value DOUBLE NOT NULL,
  KEY of_run (sitting_id, id),
  FOREIGN KEY (sitting_id) REFERENCES trainer_run (sitting_id) ON DELETE CASCADE
);
