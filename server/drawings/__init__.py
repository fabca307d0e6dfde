"""Drawings, their log of commands, and the views derived for them."""
