DROP TABLE sitting;
