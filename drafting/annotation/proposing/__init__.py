"""What could be placed: sizes by pick, runs, centers, balloons, tidy rows."""
