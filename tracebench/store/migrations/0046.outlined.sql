CREATE TABLE outlined (
  version_id INT UNSIGNED NOT NULL PRIMARY KEY,
  FOREIGN KEY (version_id) REFERENCES reference_version (id)
);
