CREATE TABLE outline (
  version_id INT UNSIGNED NOT NULL,
  lane VARCHAR(64) NOT NULL,
  name VARCHAR(64) NOT NULL,
  sweep TINYINT UNSIGNED NOT NULL,
  from_s DOUBLE NOT NULL,
  to_s DOUBLE NOT NULL,
  packed BLOB NOT NULL,
  PRIMARY KEY (version_id, lane, name, sweep),
  FOREIGN KEY (version_id) REFERENCES reference_version (id)
);
