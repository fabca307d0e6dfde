"""Models that were brought in, with their versions and files."""
