"""The window: PyQt6, and nothing else knows Qt."""
