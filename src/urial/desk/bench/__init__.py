"""The bench view: one step, large enough to be read from two metres, and one thing to press."""

from urial.desk.bench.view import BenchView

__all__ = ["BenchView"]
