ALTER TABLE capture DROP COLUMN stored_bytes;
