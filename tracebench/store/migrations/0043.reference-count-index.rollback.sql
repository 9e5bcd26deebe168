ALTER TABLE reference DROP KEY by_count;
