"""Answers by group; each module has a table of them by the question's name."""
