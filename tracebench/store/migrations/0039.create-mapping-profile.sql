CREATE TABLE mapping_profile (
  owner_id INT UNSIGNED NOT NULL,
  layout CHAR(32) NOT NULL,
  circuit VARCHAR(64) NOT NULL,
  mapping TEXT NOT NULL CHECK (JSON_VALID(mapping)),
  interval_s DOUBLE NULL,
  used_at DATETIME(3) NOT NULL,
  PRIMARY KEY (owner_id, layout, circuit),
  FOREIGN KEY (owner_id) REFERENCES person (id)
);
