"""What leaves the shop: PDF packet, DXF, true-size templates, tables."""
