-- name: run(sitting_id)^
-- The run of the trainer that a sitting has, with how far its moves go.
SELECT r.sitting_id, r.number, r.started_at, r.waited_s, r.base_s, r.settings,
  (SELECT COUNT(*) FROM trainer_move m WHERE m.sitting_id = r.sitting_id) AS moves,
  (SELECT COALESCE(MAX(m.at_s), 0) FROM trainer_move m WHERE m.sitting_id = r.sitting_id) AS last_s
FROM trainer_run r WHERE r.sitting_id = :sitting_id;

-- name: end_run(sitting_id)!
-- A run that is there is over, with its moves.
DELETE FROM trainer_run WHERE sitting_id = :sitting_id;

-- name: begin_run(sitting_id, number, at, settings)!
-- A run begins with the key off.
INSERT INTO trainer_run (sitting_id, number, started_at, settings) VALUES (:sitting_id, :number, :at, :settings);

-- name: set_run(sitting_id, settings, base_s, waited_s)!
-- Other settings of the scope, or time that was let go by; records begin anew from there.
UPDATE trainer_run SET settings = :settings, base_s = :base_s, waited_s = :waited_s WHERE sitting_id = :sitting_id;

-- name: add_move(sitting_id, at_s, control, value)!
-- What a hand did; moves are kept in order.
INSERT INTO trainer_move (sitting_id, at_s, control, value) VALUES (:sitting_id, :at_s, :control, :value);

-- name: standing_of_controls(sitting_id)
-- Where each control of a run stands.
SELECT m.control, m.value FROM trainer_move m
WHERE m.id IN (SELECT MAX(id) FROM trainer_move WHERE sitting_id = :sitting_id GROUP BY control);

-- name: moves(sitting_id)
-- All that hands did in a run, in order.
SELECT at_s, control, value FROM trainer_move WHERE sitting_id = :sitting_id ORDER BY id;
