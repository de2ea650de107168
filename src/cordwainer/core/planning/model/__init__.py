"""Planning: model."""
