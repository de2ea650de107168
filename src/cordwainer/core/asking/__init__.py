"""Small questions asked in one line: what was understood, the answer with its working, what could not be read."""
