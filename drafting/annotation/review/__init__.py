"""Reading a drawing's annotations together: what is said twice, and the table of all sizes."""
