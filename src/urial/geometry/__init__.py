"""Places, paths, shapes and what is read from them: solid, axis, section, flat pattern, cut length,
template.
"""
