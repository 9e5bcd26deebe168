ALTER TABLE sitting DROP COLUMN seen_at;
