-- name: add(kind, about, owner_id, payload, urgency, not_before, at)!
-- Something to do, once for what it is about: what is there already stays as it is.
INSERT INTO job (kind, about, owner_id, payload, urgency, not_before, created_at)
VALUES (:kind, :about, :owner_id, :payload, :urgency, :not_before, :at)
ON DUPLICATE KEY UPDATE id = id;

-- name: due(at, limit_rows)
-- Jobs that are due, or whose worker went silent: the urgent first, then those that failed least, then the oldest.
SELECT id FROM job
WHERE (state = 'waiting' AND not_before <= :at) OR (state = 'running' AND leased_until < :at)
ORDER BY urgency, tries, id LIMIT :limit_rows;

-- name: claim(job_id, at)^
-- A job, held, if it is still due; passed over where another worker holds it.
SELECT id, kind, about, owner_id, payload, tries FROM job
WHERE id = :job_id AND ((state = 'waiting' AND not_before <= :at) OR (state = 'running' AND leased_until < :at))
FOR UPDATE SKIP LOCKED;

-- name: give_up(job_id, problem, at)!
-- A job that was begun too often, and why it is not begun again.
UPDATE job SET state = 'failed', problem = :problem, ended_at = :at, leased_until = NULL WHERE id = :job_id;

-- name: afresh(about, at)!
-- A job as if it had never been begun.
UPDATE job SET state = 'waiting', tries = 0, problem = NULL, progress = 0, not_before = :at, leased_until = NULL,
  ended_at = NULL WHERE about = :about AND state <> 'done';

-- name: due_count(at)$
-- How many jobs could be taken now.
SELECT COUNT(*) FROM job
WHERE (state = 'waiting' AND not_before <= :at) OR (state = 'running' AND leased_until < :at);

-- name: begin(job_id, worker, until, at)!
-- A job that a worker takes.
UPDATE job SET state = 'running', worker = :worker, leased_until = :until, tries = tries + 1, started_at = :at,
  progress = 0 WHERE id = :job_id;

-- name: renew(job_id, worker, until, progress)!
-- A job is still worked on, and how far it is; nobody else takes it meanwhile.
UPDATE job SET leased_until = :until, progress = :progress
WHERE id = :job_id AND worker = :worker AND state = 'running';

-- name: still_of(job_id, worker)^
-- The job, held, if it is still this worker's.
SELECT id FROM job WHERE id = :job_id AND worker = :worker AND state = 'running' FOR UPDATE;

-- name: finish(job_id, result, at)!
-- A job that is done, with what came of it.
UPDATE job SET state = 'done', progress = 1, result = :result, ended_at = :at, leased_until = NULL WHERE id = :job_id;

-- name: fail(job_id, worker, problem, at)!
-- A job that cannot be done, and why.
UPDATE job SET state = 'failed', problem = :problem, ended_at = :at, leased_until = NULL
WHERE id = :job_id AND worker = :worker AND state = 'running';

-- name: postpone(job_id, worker, problem, not_before)!
-- A job that is tried again later.
UPDATE job SET state = 'waiting', problem = :problem, not_before = :not_before, leased_until = NULL
WHERE id = :job_id AND worker = :worker AND state = 'running';

-- name: cancel(job_id, at)!
-- A job that is not wanted any more.
UPDATE job SET state = 'cancelled', ended_at = :at, leased_until = NULL
WHERE id = :job_id AND state IN ('waiting', 'running');

-- name: again(job_id, at)!
-- A job that failed or was cancelled, from the beginning.
UPDATE job SET state = 'waiting', tries = 0, problem = NULL, progress = 0, not_before = :at, ended_at = NULL
WHERE id = :job_id AND state IN ('failed', 'cancelled');

-- name: by_id(job_id)^
-- One job.
SELECT id, kind, about, owner_id, state, tries, progress, result, problem, created_at, started_at, ended_at
FROM job WHERE id = :job_id;

-- name: by_about(about)^
-- The job that is about something.
SELECT id, kind, about, owner_id, state, tries, progress, result, problem, created_at, started_at, ended_at
FROM job WHERE about = :about;

-- name: latest(limit_rows)
-- The last jobs, newest first.
SELECT j.id, j.kind, j.about, p.name AS owner, j.state, j.tries, j.progress, j.problem, j.created_at, j.started_at,
  j.ended_at
FROM job j LEFT JOIN person p ON p.id = j.owner_id ORDER BY j.id DESC LIMIT :limit_rows;

-- name: waiting_count()$
-- How many jobs are due or under way.
SELECT COUNT(*) FROM job WHERE state IN ('waiting', 'running');

-- name: forget(kind, owner_id, like, about)!
-- Jobs of a kind that ended and whose result nobody asks for any more, but the one that is told.
DELETE FROM job WHERE kind = :kind AND owner_id = :owner_id AND about LIKE :like AND about <> :about
  AND state IN ('done', 'failed', 'cancelled');

-- name: move_along(seconds)!
-- The clock was set by so many seconds: what waits, and what is leased, does so as much later.
UPDATE job SET not_before = TIMESTAMPADD(MICROSECOND, ROUND(1000000 * :seconds), not_before),
  leased_until = TIMESTAMPADD(MICROSECOND, ROUND(1000000 * :seconds), leased_until)
WHERE state IN ('waiting', 'running');
