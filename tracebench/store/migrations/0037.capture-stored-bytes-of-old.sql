UPDATE capture c SET stored_bytes =
  COALESCE((SELECT SUM(LENGTH(k.packed)) FROM capture_chunk k WHERE k.capture_id = c.id), 0)
  + COALESCE((SELECT SUM(LENGTH(e.packed)) FROM capture_envelope e WHERE e.capture_id = c.id), 0);
