ALTER TABLE sitting
  ADD COLUMN standing TEXT NULL CHECK (JSON_VALID(standing)),
  ADD COLUMN criteria TEXT NULL CHECK (JSON_VALID(criteria));
