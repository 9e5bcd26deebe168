ALTER TABLE sitting_likeness MODIFY other_id INT UNSIGNED NULL, ADD COLUMN reference_id INT UNSIGNED NULL,
  ADD UNIQUE KEY sitting_likeness_to_reference (sitting_id, reference_id, kind),
  ADD CONSTRAINT sitting_likeness_reference FOREIGN KEY (reference_id) REFERENCES reference (id);
