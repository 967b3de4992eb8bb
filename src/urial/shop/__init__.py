"""The shop: what lies on its rack, its tools, its prices and rates.  ``snapshot`` is one frozen value of it;
``book`` keeps it in a database.
"""
