DROP TABLE capture_record;
