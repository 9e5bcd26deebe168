CREATE TABLE sign_in_session (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  token_hash CHAR(64) NOT NULL UNIQUE,
  person_id INT UNSIGNED NOT NULL,
  epoch INT UNSIGNED NOT NULL,
  address VARCHAR(64) NOT NULL,
  device VARCHAR(120) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  KEY by_person (person_id, ended_at),
  FOREIGN KEY (person_id) REFERENCES person (id)
);
