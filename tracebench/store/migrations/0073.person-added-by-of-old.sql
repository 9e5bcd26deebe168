UPDATE person p JOIN audit a ON a.action = 'person.add' AND a.about = 'person' AND a.about_id = p.id
SET p.added_by = a.person_id;
