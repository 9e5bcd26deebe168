-- name: state(since, used_since)^
-- The server, its size and schema, the queue, and how many sessions are in use.
SELECT VERSION() AS server,
  (SELECT COALESCE(SUM(data_length + index_length), 0) FROM information_schema.tables
   WHERE table_schema = DATABASE()) AS bytes,
  (SELECT MAX(migration_id) FROM _yoyo_migration) AS migration,
  (SELECT COUNT(*) FROM job WHERE state = 'waiting') AS waiting,
  (SELECT COUNT(*) FROM job WHERE state = 'running') AS running,
  (SELECT COUNT(*) FROM job WHERE state = 'failed' AND ended_at >= :since) AS failed,
  (SELECT MIN(created_at) FROM job WHERE state = 'waiting') AS oldest,
  (SELECT COUNT(DISTINCT s.person_id) FROM sign_in_session s JOIN person p ON p.id = s.person_id
   AND p.session_epoch = s.epoch WHERE s.ended_at IS NULL AND s.used_at >= :used_since) AS signed_in;
