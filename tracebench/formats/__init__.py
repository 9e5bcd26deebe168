"""Files to captures and back: one module a format, with what reads it (`reading.py`), writes it (`writing.py`) and
reads what strangers send in a process of its own (`apart`)."""
