UPDATE capture SET stored_bytes = 0;
