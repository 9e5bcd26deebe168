"""Job cards: what they hold, their documents, and what their learner may see of them."""
