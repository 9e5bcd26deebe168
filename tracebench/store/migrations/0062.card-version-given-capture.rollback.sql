ALTER TABLE card_version
  DROP CONSTRAINT card_version_gives,
  DROP COLUMN given_capture_id,
  DROP COLUMN given_version_id;
