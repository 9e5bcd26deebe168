ALTER TABLE reference
  ADD COLUMN listing TEXT NULL CHECK (listing IS NULL OR JSON_VALID(listing)),
  ADD COLUMN words TEXT NOT NULL DEFAULT '',
  ADD COLUMN call_said VARCHAR(16) NULL,
  ADD COLUMN latest_version_id INT UNSIGNED NULL,
  ADD FULLTEXT KEY by_words (words),
  ADD KEY by_change (changed_at, id),
  ADD KEY by_circuit (circuit, changed_at, id);
