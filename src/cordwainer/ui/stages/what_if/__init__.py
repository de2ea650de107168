"""The stage what_if and its parts."""
