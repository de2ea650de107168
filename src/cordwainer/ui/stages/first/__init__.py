"""The stage first and its parts."""
