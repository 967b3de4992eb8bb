"""The packet's sections, a file each; found by themselves."""
