CREATE TABLE card_version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  card_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  document LONGTEXT NOT NULL CHECK (JSON_VALID(document)),
  published_at DATETIME(3) NOT NULL,
  UNIQUE KEY one_version (card_id, version),
  FOREIGN KEY (card_id) REFERENCES card (id)
);
