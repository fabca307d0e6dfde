"""What is to be inspected of a drawing: its requirements with their limits, what was measured, and whether
that is in or out."""
