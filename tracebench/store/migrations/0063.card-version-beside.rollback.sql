DROP TABLE card_version_beside;
