DROP TABLE vehicle;
