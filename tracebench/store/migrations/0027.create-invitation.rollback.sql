DROP TABLE invitation;
