"""Reading a value off the trace."""
