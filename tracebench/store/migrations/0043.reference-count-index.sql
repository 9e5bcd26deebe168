ALTER TABLE reference
  ADD KEY by_count (state, circuit, call_said, author_id, reach, course_id, latest_version_id);
