UPDATE sitting SET title = '';
