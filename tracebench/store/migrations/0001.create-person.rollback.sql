DROP TABLE person;
