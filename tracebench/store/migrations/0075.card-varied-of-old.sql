-- Each learner has a part of their own unless a card says otherwise; cards of before say what they did.
UPDATE card SET document = JSON_SET(document, '$.source.varied', JSON_EXTRACT('false', '$'))
WHERE JSON_VALUE(document, '$.source.kind') = 'trainer' AND NOT JSON_EXISTS(document, '$.source.varied');
UPDATE card_version SET document = JSON_SET(document, '$.source.varied', JSON_EXTRACT('false', '$'))
WHERE JSON_VALUE(document, '$.source.kind') = 'trainer' AND NOT JSON_EXISTS(document, '$.source.varied');
