"""The stage cut and its parts."""
