"""The drawing itself: its sheets with what was read marked on them, gone through and taken as holes."""
