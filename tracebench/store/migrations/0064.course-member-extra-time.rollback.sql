ALTER TABLE course_member DROP COLUMN extra_pct;
