DROP TABLE sign_in_failure;
