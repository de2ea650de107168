"""The stage print and its parts."""
