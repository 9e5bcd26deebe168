ALTER TABLE sitting DROP COLUMN standing, DROP COLUMN criteria;
