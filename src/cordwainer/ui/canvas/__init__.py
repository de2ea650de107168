"""Painted views: dye, tool outlines, the section, the tolerance slot."""
