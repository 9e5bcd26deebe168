ALTER TABLE capture DROP COLUMN fingerprint;
