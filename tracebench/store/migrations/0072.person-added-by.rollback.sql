ALTER TABLE person DROP COLUMN added_by;
