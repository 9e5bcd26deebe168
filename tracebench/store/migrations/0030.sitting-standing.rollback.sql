ALTER TABLE sitting DROP COLUMN standing;
