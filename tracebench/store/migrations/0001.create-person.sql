CREATE TABLE person (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sign_in VARCHAR(64) NOT NULL UNIQUE,
  name VARCHAR(120) NOT NULL,
  role ENUM('administrator','instructor','learner') NOT NULL,
  password_hash VARCHAR(255) NOT NULL,
  session_epoch INT UNSIGNED NOT NULL DEFAULT 1,
  active BOOLEAN NOT NULL DEFAULT TRUE,
  created_at DATETIME(3) NOT NULL
);
