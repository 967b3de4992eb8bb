"""Makes the papers' TrueType files from the OpenType ones the window uses: python packaging/fonts.py (needs
fontTools).

PDF writers embed TrueType outlines; the curves are redrawn as quadratics to a thousandth of the em, nothing
else changes.
"""

from __future__ import annotations

from pathlib import Path

from fontTools.pens.cu2quPen import Cu2QuPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont, newTable

HERE = Path(__file__).parents[1] / "src" / "urial"


def as_truetype(source: Path, target: Path) -> None:
    """One font with quadratic outlines."""
    font = TTFont(source)
    glyphs, order = font.getGlyphSet(), font.getGlyphOrder()
    made = {}
    for name in order:
        pen = TTGlyphPen(glyphs)
        glyphs[name].draw(Cu2QuPen(pen, font["head"].unitsPerEm / 1000, reverse_direction=True))
        made[name] = pen.glyph()
    table = newTable("glyf")
    table.glyphOrder, table.glyphs = order, made
    font["loca"], font["glyf"] = newTable("loca"), table
    del font["CFF "]
    top = font["maxp"]
    top.tableVersion = 0x00010000
    for key in (
        "maxZones",
        "maxTwilightPoints",
        "maxStorage",
        "maxFunctionDefs",
        "maxInstructionDefs",
        "maxStackElements",
        "maxSizeOfInstructions",
    ):
        setattr(top, key, 1 if key == "maxZones" else 0)
    top.maxComponentElements = max(
        (len(g.components) if g.isComposite() else 0 for g in made.values()), default=0
    )
    font["post"].formatType = 2.0
    font["post"].extraNames, font["post"].mapping, font["post"].glyphOrder = [], {}, order
    font.sfntVersion = "\000\001\000\000"
    font["head"].modified = font["head"].created
    font.recalcTimestamp = False
    font.save(target)


if __name__ == "__main__":
    for weight in ("Regular", "Bold"):
        as_truetype(
            HERE / "desk" / "theme" / "fonts" / f"B612-{weight}.otf",
            HERE / "papers" / "fonts" / f"B612-{weight}.ttf",
        )
    (HERE / "papers" / "fonts" / "LICENSE-B612.txt").write_bytes(
        (HERE / "desk" / "theme" / "fonts" / "LICENSE-B612.txt").read_bytes()
    )
