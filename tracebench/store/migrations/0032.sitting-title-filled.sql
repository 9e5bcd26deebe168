UPDATE sitting s JOIN card_version v ON v.id = s.card_version_id
SET s.title = COALESCE(JSON_VALUE(v.document, '$.title'), '');
