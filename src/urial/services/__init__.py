"""Things with a plug: instruments that send lines over a serial port, and stand-ins that speak the same
way.
"""
