"""Skills of learners, from the marks that were released."""
