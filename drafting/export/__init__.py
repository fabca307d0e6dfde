"""Ink to files: SVG, PDF and DXF. All three draw the same elements."""
