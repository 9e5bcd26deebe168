ALTER TABLE card_version
  ADD COLUMN given_capture_id INT UNSIGNED NULL,
  ADD COLUMN given_version_id INT UNSIGNED NULL,
  ADD CONSTRAINT card_version_gives FOREIGN KEY (given_capture_id) REFERENCES capture (id);
