"""Constants of air and petrol that the engine's parts share."""

GAS = 287.05
"""Specific gas constant of dry air, J/(kg K) (ISO 2533)."""

GAMMA = 1.4
STOICHIOMETRIC = 14.7
HEAT_J_KG = 43e6
"""Of petrol (from memory)."""
