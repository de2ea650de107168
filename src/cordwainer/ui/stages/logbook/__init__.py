"""The stage logbook and its parts."""
