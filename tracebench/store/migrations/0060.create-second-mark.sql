CREATE TABLE second_mark (
  sitting_id INT UNSIGNED NOT NULL PRIMARY KEY,
  marker_id INT UNSIGNED NOT NULL,
  asked_by INT UNSIGNED NOT NULL,
  asked_at DATETIME(3) NOT NULL,
  done_at DATETIME(3) NULL,
  marks TEXT NOT NULL DEFAULT '{}' CHECK (JSON_VALID(marks)),
  words VARCHAR(1000) NOT NULL DEFAULT '',
  KEY of_marker (marker_id, done_at),
  FOREIGN KEY (sitting_id) REFERENCES sitting (id),
  FOREIGN KEY (marker_id) REFERENCES person (id),
  FOREIGN KEY (asked_by) REFERENCES person (id)
);
