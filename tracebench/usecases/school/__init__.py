"""What concerns the whole installation: its trail, its clock, its disk, how it is doing, and what today needs."""
