DROP TABLE reference_review;
