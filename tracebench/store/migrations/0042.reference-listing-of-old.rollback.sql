UPDATE reference SET listing = NULL, words = '';
