CREATE TABLE known_device (
  person_id INT UNSIGNED NOT NULL,
  device CHAR(64) NOT NULL,
  used_at DATETIME(3) NOT NULL,
  PRIMARY KEY (person_id, device),
  FOREIGN KEY (person_id) REFERENCES person (id)
);
