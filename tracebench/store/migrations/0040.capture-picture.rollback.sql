ALTER TABLE capture DROP COLUMN picture;
