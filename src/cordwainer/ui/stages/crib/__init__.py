"""The stage crib and its parts."""
