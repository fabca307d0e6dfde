"""Measuring on the model: what picks stand for, and the lengths between them. Knows nothing of ink."""
