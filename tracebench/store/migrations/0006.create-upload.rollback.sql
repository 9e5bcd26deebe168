DROP TABLE upload;
