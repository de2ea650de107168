"""The stage plan and its parts."""
