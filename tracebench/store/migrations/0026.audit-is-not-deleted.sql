CREATE TRIGGER audit_is_not_deleted BEFORE DELETE ON audit
FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit trail is only added to';
