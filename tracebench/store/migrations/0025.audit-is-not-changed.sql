CREATE TRIGGER audit_is_not_changed BEFORE UPDATE ON audit
FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit trail is only added to';
