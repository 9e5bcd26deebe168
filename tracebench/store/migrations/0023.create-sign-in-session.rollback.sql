DROP TABLE sign_in_session;
