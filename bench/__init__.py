"""Measurements that print ratios against the bare library calls in the same run."""
