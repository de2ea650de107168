"""Planning: machine."""
