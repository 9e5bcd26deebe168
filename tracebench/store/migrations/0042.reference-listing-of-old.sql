UPDATE reference r LEFT JOIN reference_version v ON v.reference_id = r.id
  AND v.version = (SELECT MAX(w.version) FROM reference_version w WHERE w.reference_id = r.id)
SET r.latest_version_id = v.id, r.call_said = JSON_VALUE(v.answer, '$.call'),
  r.listing = JSON_OBJECT(
    'version', v.version, 'because', JSON_COMPACT(COALESCE(JSON_QUERY(v.answer, '$.because'), '[]')),
    'provenance', JSON_COMPACT(COALESCE(JSON_QUERY(r.document, '$.provenance'), '{}')),
    'options', JSON_COMPACT(COALESCE(JSON_QUERY(r.document, '$.options'), '{}')),
    'tags', COALESCE(JSON_LENGTH(r.document, '$.tags'), 0)),
  r.words = LEFT(CONCAT_WS(' ', r.title, REPLACE(r.circuit, '-', ' '),
    JSON_VALUE(r.document, '$.provenance.vehicle'), JSON_VALUE(r.document, '$.provenance.engine'),
    JSON_VALUE(r.document, '$.provenance.conditions'), JSON_VALUE(r.document, '$.provenance.part'),
    JSON_VALUE(r.document, '$.notes'), JSON_EXTRACT(r.document, '$.tags[*].text'),
    REPLACE(JSON_EXTRACT(v.answer, '$.because[*]'), '_', ' ')), 15000);
