ALTER TABLE capture MODIFY origin ENUM('file','trainer','instrument') NOT NULL;
