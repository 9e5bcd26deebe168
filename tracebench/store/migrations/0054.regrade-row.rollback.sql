DROP TABLE regrade_row;
