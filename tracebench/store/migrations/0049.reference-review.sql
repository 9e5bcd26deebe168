CREATE TABLE reference_review (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  reference_id INT UNSIGNED NOT NULL,
  revision INT UNSIGNED NOT NULL,
  reviewer_id INT UNSIGNED NOT NULL,
  fine BOOLEAN NOT NULL,
  note VARCHAR(1000) NOT NULL,
  reviewed_at DATETIME(3) NOT NULL,
  KEY by_reference (reference_id, revision),
  FOREIGN KEY (reference_id) REFERENCES reference (id),
  FOREIGN KEY (reviewer_id) REFERENCES person (id)
);
