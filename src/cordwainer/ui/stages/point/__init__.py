"""The stage point and its parts."""
