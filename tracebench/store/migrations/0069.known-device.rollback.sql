DROP TABLE known_device;
