ALTER TABLE capture ADD COLUMN raw_id INT UNSIGNED NULL, ADD FOREIGN KEY made_of (raw_id) REFERENCES capture (id);
