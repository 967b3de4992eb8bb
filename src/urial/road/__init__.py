"""Vehicle and trailer as masses on wheels: balance, heights, coupling values."""
