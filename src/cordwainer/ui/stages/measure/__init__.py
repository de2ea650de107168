"""The stage measure and its parts."""
