"""The marking desk: marks worked out, decided, marked a second time, released, and what stands of them."""
