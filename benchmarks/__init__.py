"""What the product measures of itself; each is run by hand and its figures are written in docs/measurements.md."""

# Before numpy, as the application does it: one thread of the linear algebra library.
import tracebench as tracebench
