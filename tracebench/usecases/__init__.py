"""What the product does for people, by area; each takes a connection and who asks, and gives values back."""
