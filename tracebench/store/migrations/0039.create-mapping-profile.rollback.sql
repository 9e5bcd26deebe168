DROP TABLE mapping_profile;
