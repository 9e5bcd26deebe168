ALTER TABLE reference DROP KEY by_uid, DROP COLUMN uid;
