ALTER TABLE capture MODIFY origin ENUM('file','trainer') NOT NULL;
