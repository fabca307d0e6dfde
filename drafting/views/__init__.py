"""Views of models: directions, projection, visibility, arrangement and scale."""
