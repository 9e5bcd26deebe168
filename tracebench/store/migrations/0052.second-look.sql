CREATE TABLE second_look (
  sitting_id INT UNSIGNED NOT NULL PRIMARY KEY,
  words VARCHAR(1000) NOT NULL,
  asked_at DATETIME(3) NOT NULL,
  answered_at DATETIME(3) NULL,
  FOREIGN KEY (sitting_id) REFERENCES sitting (id)
);
