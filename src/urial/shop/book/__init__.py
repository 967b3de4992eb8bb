"""The shop book: the rack and the shop's figures in a database, so that two windows and two machines share
them.  SQLite unless ``URIAL_BOOK`` names another; imported only where it is used.
"""

from urial.shop.book.book import Book, BookError
from urial.shop.where import there

__all__ = ["Book", "BookError", "there"]
