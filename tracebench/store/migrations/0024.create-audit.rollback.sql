DROP TABLE audit;
