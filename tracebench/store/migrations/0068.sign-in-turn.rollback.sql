DROP TABLE sign_in_turn;
