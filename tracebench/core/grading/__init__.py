"""Grading: `grade.grade` applies every criterion that a card asks for to one attempt."""
