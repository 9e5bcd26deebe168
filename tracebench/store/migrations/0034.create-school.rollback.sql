DROP TABLE school;
