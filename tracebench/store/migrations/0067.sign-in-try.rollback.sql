DROP TABLE sign_in_try;
