"""A session without a window: the document, what is chosen in it, and the questions asked about it."""
