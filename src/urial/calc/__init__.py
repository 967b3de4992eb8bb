"""Bench calculators: one registry, name → (input model, function), read by the command line and the
window.
"""
