"""The state of one window: plain objects that each own one thing."""
