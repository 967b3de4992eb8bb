"""Pieces that several families use; they know no family."""
