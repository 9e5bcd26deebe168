ALTER TABLE reference
  DROP KEY by_words, DROP KEY by_change, DROP KEY by_circuit,
  DROP COLUMN listing, DROP COLUMN words, DROP COLUMN call_said, DROP COLUMN latest_version_id;
