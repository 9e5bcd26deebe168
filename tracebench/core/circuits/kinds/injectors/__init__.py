"""Injector circuits: voltage, current of one, of a group and of all in order, peak and hold, piezo."""
