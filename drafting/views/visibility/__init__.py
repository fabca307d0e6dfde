"""The visibility engine: which parts of which curves are seen, from triangles, exact curves and rays. Knows
no kernel."""
