CREATE TABLE invitation (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  token_hash CHAR(64) NOT NULL UNIQUE,
  person_id INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  KEY by_person (person_id),
  FOREIGN KEY (person_id) REFERENCES person (id)
);
