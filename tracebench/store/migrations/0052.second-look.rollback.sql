DROP TABLE second_look;
