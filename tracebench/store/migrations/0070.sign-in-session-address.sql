CREATE INDEX by_address ON sign_in_session (address, person_id);
