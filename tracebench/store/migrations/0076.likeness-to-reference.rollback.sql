ALTER TABLE sitting_likeness DROP FOREIGN KEY sitting_likeness_reference, DROP KEY sitting_likeness_to_reference, DROP COLUMN reference_id;
