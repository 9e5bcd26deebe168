"""A sitting: started, answered, recorded on the trainer, handed in; and what may be seen of it when."""
