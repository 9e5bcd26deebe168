DROP TABLE outline;
