"""The stage part and its parts."""
