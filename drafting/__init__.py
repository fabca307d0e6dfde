"""Moorcrest's craft: models, views, annotations, standards, sheets, ink and files. Knows no interface,
database or HTTP."""
