"""Numbers of the standards as data, each table with its source, and the two profiles that draw by them."""
