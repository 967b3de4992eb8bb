"""Speed as ratios within one run.  ``./run bench`` prints them; nothing here is a test."""
