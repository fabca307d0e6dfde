"""The only package that imports the geometry kernel's bindings. Functions take opaque shapes and return plain
data."""
