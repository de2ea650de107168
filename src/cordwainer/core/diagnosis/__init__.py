"""From a measured hole and what was seen to likely causes, the next check, fix and rescue."""
