CREATE TABLE sign_in_try (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sign_in VARCHAR(64) NOT NULL,
  address VARCHAR(64) NOT NULL,
  came_from VARCHAR(80) NOT NULL,
  known BOOLEAN NOT NULL,
  again BOOLEAN NOT NULL,
  strange BOOLEAN NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY by_sign_in (sign_in, at),
  KEY by_address (address, at),
  KEY by_came_from (came_from, at),
  KEY by_at (at)
);
