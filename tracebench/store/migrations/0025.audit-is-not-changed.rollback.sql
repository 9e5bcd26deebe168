DROP TRIGGER audit_is_not_changed;
