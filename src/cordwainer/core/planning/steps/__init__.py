"""Planning: steps."""
