"""Urial: from tape measure to shop sheet for hitch and trailer fabricators."""

__version__ = "0.1.0"
