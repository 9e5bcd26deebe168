ALTER TABLE reference DROP COLUMN answer, DROP COLUMN answer_revision, DROP COLUMN answer_engine;
