"""People: accounts, signing in, courses, and who may do what."""
