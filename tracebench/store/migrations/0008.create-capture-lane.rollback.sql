DROP TABLE capture_lane;
