DROP TABLE sitting_likeness;
