"""The logbook: holes made, with what, how they measured, what was found; one SQLite file."""
