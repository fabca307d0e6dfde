"""How numbers, tolerances and labels are written."""
