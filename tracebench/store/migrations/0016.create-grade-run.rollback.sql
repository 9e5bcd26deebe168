DROP TABLE grade_run;
