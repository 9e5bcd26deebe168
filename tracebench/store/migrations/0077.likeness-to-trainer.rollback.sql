ALTER TABLE sitting_likeness DROP FOREIGN KEY sitting_likeness_capture, DROP KEY sitting_likeness_to_capture, DROP COLUMN capture_id;
ALTER TABLE capture DROP KEY capture_by_origin;
