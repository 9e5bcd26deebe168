DROP TABLE regrade_run;
