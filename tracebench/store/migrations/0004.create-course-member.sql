CREATE TABLE course_member (
  course_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (course_id, person_id),
  KEY by_person (person_id),
  FOREIGN KEY (course_id) REFERENCES course (id),
  FOREIGN KEY (person_id) REFERENCES person (id)
);
