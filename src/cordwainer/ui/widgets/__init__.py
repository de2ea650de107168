"""Small parts used by several stages."""
