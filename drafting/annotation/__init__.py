"""What is written on views: one module a kind, each with its measuring and its ink, listed in `registry`."""
