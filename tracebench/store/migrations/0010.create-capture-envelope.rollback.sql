DROP TABLE capture_envelope;
