CREATE TABLE collection_item (
  name VARCHAR(60) NOT NULL,
  reference_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (name, reference_id),
  KEY by_reference (reference_id),
  FOREIGN KEY (reference_id) REFERENCES reference (id)
);
