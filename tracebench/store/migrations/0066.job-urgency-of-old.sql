UPDATE job SET urgency = CASE kind WHEN 'time-up' THEN 0 WHEN 'grade' THEN 1 WHEN 'record' THEN 2 ELSE 5 END;
