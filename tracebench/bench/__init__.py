"""The trainer: simulated parts, hands and scope that stand in for a vehicle and an instrument."""
