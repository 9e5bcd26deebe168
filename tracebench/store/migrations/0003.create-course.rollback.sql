DROP TABLE course;
