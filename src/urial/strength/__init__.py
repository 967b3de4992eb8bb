"""Structural engineering: frame, members, welds, bolts, pins, plates, checks and the verdict."""
