DROP TABLE capture;
