"""The circuits, a folder each, named after its code.

`circuit.py` declares it (CIRCUIT), `measuring.py` is what is peculiar to its measuring, `look.py` how a file of it
looks (LOOKS), `source.py` what the trainer makes of it (SOURCE), `shelf.py` its demo references and ready cards. The
first three import from the core alone, `source.py` from the core and the bench, `shelf.py` nothing; no circuit knows
another. `docs/adding-a-circuit.md` walks through a new one.
"""
