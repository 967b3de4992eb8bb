"""Duty and vehicle to load cases, by a policy kept as data."""
