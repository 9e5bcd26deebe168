DROP TABLE capture_chunk;
