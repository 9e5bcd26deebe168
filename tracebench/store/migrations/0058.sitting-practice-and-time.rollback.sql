ALTER TABLE sitting DROP COLUMN practice, DROP COLUMN ends_at;
