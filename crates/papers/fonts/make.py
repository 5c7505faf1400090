#!/usr/bin/env python3
"""Makes the typefaces of papers from those of the interface: what sets pages reads no web fonts. Needs fonttools and brotli from PyPI,
and the interface's packages installed; what it writes is kept here, so that nobody needs it but to change a face.

usage: fonts/make.py  (from anywhere)
"""
import os
import tempfile

from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

HERE = os.path.dirname(os.path.abspath(__file__))
FROM = os.path.join(HERE, "../../../web/node_modules/@fontsource-variable")
FACES = [
    ("atkinson-hyperlegible-next", "Papers Sans", "normal", 400),
    ("atkinson-hyperlegible-next", "Papers Sans", "normal", 700),
    ("atkinson-hyperlegible-next", "Papers Sans", "italic", 400),
    ("atkinson-hyperlegible-next", "Papers Sans", "italic", 700),
    ("source-serif-4", "Papers Serif", "normal", 600),
    ("source-serif-4", "Papers Serif", "italic", 400),
]


def one(package, family, style, weight):
    parts = []
    folder = tempfile.mkdtemp()
    for subset in ("latin", "latin-ext"):
        font = TTFont(f"{FROM}/{package}/files/{package}-{subset}-wght-{style}.woff2")
        font.flavor = None
        fixed = instantiateVariableFont(font, {"wght": weight})
        for table in ("STAT", "MVAR", "avar", "HVAR"):
            if table in fixed:
                del fixed[table]
        path = os.path.join(folder, f"{subset}.ttf")
        fixed.save(path)
        parts.append(path)
    merged = Merger().merge(parts)
    words = ("Bold " if weight >= 600 else "") + ("Italic" if style == "italic" else "")
    words = words.strip() or "Regular"
    name = merged["name"]
    name.names = [record for record in name.names if record.nameID in (0, 13, 14)]
    for number, text in ((1, family), (2, words), (4, f"{family} {words}"), (6, f"{family} {words}".replace(" ", "-"))):
        name.setName(text, number, 3, 1, 0x409)
    merged["OS/2"].usWeightClass = weight
    bold, italic = weight >= 600, style == "italic"
    selection = merged["OS/2"].fsSelection & ~0b1100001
    merged["OS/2"].fsSelection = selection | (1 if italic else 0) | (32 if bold else 0) | (64 if not bold and not italic else 0)
    merged["head"].macStyle = (1 if bold else 0) | (2 if italic else 0)
    # The same bytes whenever it is made.
    merged.recalcTimestamp = False
    merged["head"].created = merged["head"].modified = 3_900_000_000
    merged.save(os.path.join(HERE, f"{family} {words}.ttf".replace(" ", "-").lower()))


for face in FACES:
    one(*face)
