"""Trace Bench: reference captures, exercises, grading and skill at reading traces."""

import os

# Its matrices are small: threads of the linear algebra library gain nothing there, and wait by turning idle, which took
# half of the machine from the other worker. It reads this when numpy is first imported.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
