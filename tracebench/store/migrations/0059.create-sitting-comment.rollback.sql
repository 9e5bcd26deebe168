DROP TABLE sitting_comment;
