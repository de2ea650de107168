"""Planning: search."""
