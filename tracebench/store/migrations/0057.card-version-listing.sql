-- What lists tell of a card, beside its document. Invisible, so that a backup, which takes every visible column, leaves
-- out what the server works out by itself.
ALTER TABLE card_version
  ADD COLUMN listed_circuit VARCHAR(64) AS (JSON_VALUE(document, '$.circuit')) PERSISTENT INVISIBLE,
  ADD COLUMN listed_source VARCHAR(16) AS (JSON_VALUE(document, '$.source.kind')) PERSISTENT INVISIBLE,
  ADD COLUMN listed_due VARCHAR(32) AS (JSON_VALUE(document, '$.due')) PERSISTENT INVISIBLE,
  ADD COLUMN listed_opens VARCHAR(32) AS (JSON_VALUE(document, '$.opens')) PERSISTENT INVISIBLE,
  ADD COLUMN listed_minutes SMALLINT UNSIGNED AS (JSON_VALUE(document, '$.minutes')) PERSISTENT INVISIBLE,
  ADD COLUMN listed_mode VARCHAR(16) AS (COALESCE(JSON_VALUE(document, '$.mode'), 'exam')) PERSISTENT INVISIBLE,
  ADD COLUMN listed_attempts TINYINT UNSIGNED AS (COALESCE(JSON_VALUE(document, '$.attempts'), 1)) PERSISTENT INVISIBLE,
  ADD COLUMN listed_steps SMALLINT UNSIGNED AS (JSON_LENGTH(document, '$.steps')) PERSISTENT INVISIBLE;
