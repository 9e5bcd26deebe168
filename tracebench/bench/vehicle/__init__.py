"""The trainer's vehicle: one engine run from which every sensor's signal comes, so that they agree."""
