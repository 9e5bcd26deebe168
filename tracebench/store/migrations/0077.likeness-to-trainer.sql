ALTER TABLE sitting_likeness ADD COLUMN capture_id INT UNSIGNED NULL,
  ADD UNIQUE KEY sitting_likeness_to_capture (sitting_id, capture_id, kind),
  ADD CONSTRAINT sitting_likeness_capture FOREIGN KEY (capture_id) REFERENCES capture (id);
ALTER TABLE capture ADD KEY capture_by_origin (circuit, origin, id);
