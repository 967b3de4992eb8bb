"""The document: vehicle, duty, design and settings as one frozen value; open, save, edit, undo, recover."""
