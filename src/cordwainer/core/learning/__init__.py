"""What the logbook teaches about each drill and reamer."""
