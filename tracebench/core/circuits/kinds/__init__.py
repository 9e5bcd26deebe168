"""One module a circuit."""
