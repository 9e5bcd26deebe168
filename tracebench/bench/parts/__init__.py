"""What the trainer's sources of several circuits are made of: engines, coils, windings, tracks of a potentiometer."""
