UPDATE person SET added_by = NULL;
