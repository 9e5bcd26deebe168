DROP TABLE reference_version;
