"""Work that nobody waits for: the queue, what each kind of job does, and whose turn it is."""
