DROP TABLE collection_item;
