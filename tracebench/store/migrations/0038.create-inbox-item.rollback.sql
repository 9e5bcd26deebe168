DROP TABLE inbox_item;
