CREATE TABLE sign_in_failure (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sign_in VARCHAR(64) NOT NULL,
  address VARCHAR(64) NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY by_sign_in (sign_in, at),
  KEY by_address (address, at)
);
