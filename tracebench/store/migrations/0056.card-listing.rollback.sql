ALTER TABLE card DROP COLUMN listed_circuit, DROP COLUMN listed_source, DROP COLUMN listed_due, DROP COLUMN listed_opens,
  DROP COLUMN listed_minutes, DROP COLUMN listed_mode,
  DROP COLUMN listed_attempts, DROP COLUMN listed_steps;
