CREATE TABLE mark_change (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sitting_id INT UNSIGNED NOT NULL,
  criterion VARCHAR(96) NOT NULL,
  earned DOUBLE NOT NULL,
  reason VARCHAR(1000) NOT NULL,
  author_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY by_sitting (sitting_id, id),
  FOREIGN KEY (sitting_id) REFERENCES sitting (id),
  FOREIGN KEY (author_id) REFERENCES person (id)
);
