"""Ink that kinds share: arrows, leaders, extension lines, grids of cells, blocks of text."""
