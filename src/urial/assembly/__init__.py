"""Parts, joints and feet as values; the solids made of them; who touches whom."""
