DROP TABLE trainer_move;
DROP TABLE trainer_run;
