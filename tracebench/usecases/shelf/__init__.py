"""The shelf: captures brought in, references made of them and their versions, what they share and look like."""
