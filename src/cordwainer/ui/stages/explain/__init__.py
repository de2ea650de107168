"""The stage explain and its parts."""
