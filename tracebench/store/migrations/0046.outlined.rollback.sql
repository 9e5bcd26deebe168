DROP TABLE outlined;
