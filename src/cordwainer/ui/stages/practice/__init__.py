"""The stage practice and its parts."""
