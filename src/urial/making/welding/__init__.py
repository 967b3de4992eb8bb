"""Welding: the seams with their settings, how they pull, in what order they are run and how long to wait."""
