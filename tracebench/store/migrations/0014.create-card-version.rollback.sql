DROP TABLE card_version;
