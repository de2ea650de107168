"""Drawings as files: their text and circles in, the holes of a job out."""
