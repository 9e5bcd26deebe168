DROP TABLE mark_change;
