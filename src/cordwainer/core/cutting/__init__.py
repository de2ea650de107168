"""Closed forms of cutting: speed, feed, force, depth, and how a depth reads on a scale."""
