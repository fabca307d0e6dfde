"""Frame, zones, title block and the layout of a new sheet."""
