DROP INDEX by_address ON sign_in_session;
