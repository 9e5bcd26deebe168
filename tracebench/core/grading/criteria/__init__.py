"""One module a criterion, or a family of them that share one question."""
