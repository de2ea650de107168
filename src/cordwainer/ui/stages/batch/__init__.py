"""The stage batch and its parts."""
