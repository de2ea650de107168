"""A batch: in which order over all holes and parts, how long, at what cost."""
