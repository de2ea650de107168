"""Planning: words."""
