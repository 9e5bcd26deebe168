CREATE TABLE sitting_likeness (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sitting_id INT UNSIGNED NOT NULL,
  other_id INT UNSIGNED NOT NULL,
  kind VARCHAR(20) NOT NULL,
  about VARCHAR(300) NOT NULL,
  UNIQUE KEY sitting_likeness_pair (sitting_id, other_id, kind),
  KEY sitting_likeness_other (other_id),
  CONSTRAINT sitting_likeness_sitting FOREIGN KEY (sitting_id) REFERENCES sitting (id),
  CONSTRAINT sitting_likeness_other FOREIGN KEY (other_id) REFERENCES sitting (id)
);
