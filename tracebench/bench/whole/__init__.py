"""A whole vehicle with its causes: every circuit and every record taken on it show the same fault."""
