"""Units of length."""

INCH = 25.4
"""mm, exactly."""
