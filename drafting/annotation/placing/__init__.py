"""Where annotations stand: the rows of the standard."""
