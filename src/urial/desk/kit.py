"""Everything the window is furnished with. Importing this brings in the whole engineering core, so the
window does it after its first paint."""

from urial import families
from urial.assembly.model import BuildError
from urial.desk import settings
from urial.desk.bench import BenchView
from urial.desk.drawer import Drawer
from urial.desk.guide import show_guide
from urial.desk.job_card import JobCard
from urial.desk.palette import Entry, Finder
from urial.desk.scene.view import Scene
from urial.desk.shop_card import ShopCard
from urial.desk.start import StartPage, remember
from urial.desk.stations.book import Book
from urial.desk.stations.build import Build
from urial.desk.stations.cut import Cut
from urial.desk.stations.finish import Finish
from urial.desk.stations.load import Load
from urial.desk.stations.measure import Measure
from urial.desk.stations.measure.keep_out_page import KeepOutPage
from urial.desk.stations.prove import Prove
from urial.desk.stations.together import Together
from urial.desk.stations.weld import Weld
from urial.desk.stations.work import NEWS
from urial.desk.tools import TOOLS
from urial.desk.widgets.chain import LoadChain
from urial.desk.widgets.fields import label as plain
from urial.desk.widgets.tape_figure import TapeFigure
from urial.families import _shop as shop
from urial.job import edit, recovery
from urial.job.compare import differences
from urial.job.file import Document, FileChanged, FileError, load, named
from urial.prove.verdict import CAUTION

STATIONS = (Measure, Load, Build, Together, Prove, Cut, Weld, Finish, Book)
"""In the order of the work; nothing else lists them."""

__all__ = [
    "CAUTION",
    "NEWS",
    "STATIONS",
    "TOOLS",
    "BenchView",
    "Build",
    "BuildError",
    "Cut",
    "Document",
    "Drawer",
    "Entry",
    "FileChanged",
    "FileError",
    "Finder",
    "JobCard",
    "KeepOutPage",
    "LoadChain",
    "Prove",
    "Scene",
    "ShopCard",
    "StartPage",
    "TapeFigure",
    "Together",
    "differences",
    "edit",
    "families",
    "load",
    "named",
    "plain",
    "recovery",
    "remember",
    "settings",
    "shop",
    "show_guide",
]
