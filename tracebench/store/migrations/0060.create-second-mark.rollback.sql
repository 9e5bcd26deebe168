DROP TABLE second_mark;
