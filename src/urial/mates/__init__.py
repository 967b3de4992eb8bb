"""How things go together: what the host offers, and what a plug in a socket becomes."""
