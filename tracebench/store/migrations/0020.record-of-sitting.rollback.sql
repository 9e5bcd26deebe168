ALTER TABLE capture_record DROP FOREIGN KEY record_of_sitting, DROP KEY by_sitting, DROP COLUMN sitting_id;
