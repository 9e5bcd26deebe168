DROP TABLE reference;
