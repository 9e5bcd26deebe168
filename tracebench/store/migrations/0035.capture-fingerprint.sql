ALTER TABLE capture ADD COLUMN fingerprint CHAR(32) NULL, ADD KEY by_fingerprint (fingerprint);
