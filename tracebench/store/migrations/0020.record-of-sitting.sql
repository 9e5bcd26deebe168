ALTER TABLE capture_record
  ADD COLUMN sitting_id INT UNSIGNED NULL AFTER capture_id,
  ADD KEY by_sitting (sitting_id, id),
  ADD CONSTRAINT record_of_sitting FOREIGN KEY (sitting_id) REFERENCES sitting (id);
