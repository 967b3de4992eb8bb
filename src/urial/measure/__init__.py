"""Measuring: places, fixes by tape, cross-checks, pictures squared up, keep-outs, and what people forget."""
