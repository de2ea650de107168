"""What the window can be told to do, as values."""
