"""The window itself: frame, stages, start."""
