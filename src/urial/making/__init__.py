"""What the shop does with an assembly: parts list, cut lengths, marks."""
