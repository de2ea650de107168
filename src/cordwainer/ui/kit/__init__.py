"""Helpers every view is made with: labels, fields, rows, tiles, colors, words."""
