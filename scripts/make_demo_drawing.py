"""Makes the drawing of the invented shop that ships with the program, as PDF and as DXF. Sizes are invented."""

from __future__ import annotations

import sys
from pathlib import Path

HERE = Path(__file__).resolve().parent.parent
FOLDER = HERE / "src" / "cordwainer" / "data" / "drawings"
NAME = "skiver_arm"
WIDE, HIGH, THICK = 160.0, 70.0, 16.0
SMALL = {"dimtxt": 2.5, "dimasz": 1.5, "dimexo": 1.0, "dimlfac": 1.0}
CORNER = (40.0, 30.0)  # where the part lies in the file
# x, y, diameter, and those about it; as drawn on the front of the arm
HOLES = (
    (22.0, 35.0, (22.0, 30.0)),
    (60.0, 52.0, (8.5,)),
    (60.0, 18.0, (8.5,)),
    (92.0, 35.0, (14.0,)),
    (122.0, 52.0, (6.6, 11.0)),
    (122.0, 18.0, (6.6, 11.0)),
    (146.0, 52.0, (6.6, 11.0)),
    (146.0, 18.0, (6.6, 11.0)),
    (134.0, 35.0, (5.0,)),
    (76.0, 35.0, (4.0,)),
)
CALLOUTS = (
    # words from the top, a pair is one figure over another; where they begin; the hole they point to
    (["Ø22 H7 THRU", "⌖ Ø0.05 A B"], (30.0, 92.0), 0),
    (["2X Ø8.5 ↧ 14", "M10x1.5-6H ↧ 11"], (64.0, 84.0), 1),
    ([["Ø14 ", ("+0.027", "0"), " THRU"]], (96.0, 92.0), 3),
    (["4X Ø6.6 THRU", "⌴ Ø11 ↧ 6.8"], (132.0, 86.0), 4),
    (["Ø5 H7 ↧ 12"], (150.0, 38.0), 8),
    (["Ø4 H7"], (79.5, -2.0), 9),  # it does not say how deep: to be asked
)
NOTES = (
    "UNLESS OTHERWISE SPECIFIED:",
    "DIMENSIONS ARE IN MILLIMETERS",
    "GENERAL TOLERANCES ISO 2768-m",
    "BREAK ALL EDGES 0.3",
)


def _words(line: object) -> list[object]:
    return list(line) if isinstance(line, list) else [line]


def make_pdf(path: Path) -> None:
    """On one sheet, A4 lying, twice as large."""
    from reportlab.lib.pagesizes import A4, landscape
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.pdfgen.canvas import Canvas

    sys.path.insert(0, str(HERE / "scripts"))
    from make_drawings import _font_with_signs

    pdfmetrics.registerFont(TTFont("Signs", str(_font_with_signs())))
    wide, high = landscape(A4)
    canvas = Canvas(str(path), pagesize=(wide, high), invariant=1)
    canvas.setTitle("Skiver arm")
    mm = 72 / 25.4
    scale, left, low = 1.3 * mm, 90.0, 190.0

    def at(x: float, y: float) -> tuple[float, float]:
        return left + x * scale, low + y * scale

    canvas.setLineWidth(0.6)
    canvas.rect(24, 24, wide - 48, high - 48)
    canvas.setLineWidth(1.2)
    canvas.roundRect(*at(0, 0), WIDE * scale, HIGH * scale, 10)
    for x, y, sizes in HOLES:
        for size in sizes:
            canvas.circle(*at(x, y), size / 2 * scale)
        canvas.setLineWidth(0.25)
        reach = max(sizes) / 2 + 3
        for dx, dy in ((reach, 0), (0, reach)):
            canvas.line(*at(x - dx, y - dy), *at(x + dx, y + dy))
        canvas.setLineWidth(1.2)
    for lines, (x, y), hole in CALLOUTS:
        px, py = at(x, y)
        hx, hy = at(*HOLES[hole][:2])
        canvas.setLineWidth(0.4)
        canvas.line(px - 4, py + 2, hx, hy)
        for number, line in enumerate(lines):
            along = px
            for piece in _words(line):
                level = py - number * 13
                if isinstance(piece, tuple):
                    canvas.setFont("Signs", 5.6)
                    canvas.drawString(along, level + 5, piece[0])
                    canvas.drawString(along, level - 1.6, piece[1])
                    along += max(canvas.stringWidth(p, "Signs", 5.6) for p in piece) + 2
                else:
                    canvas.setFont("Signs", 9)
                    canvas.drawString(along, level, str(piece))
                    along += canvas.stringWidth(str(piece), "Signs", 9)
    canvas.setFont("Signs", 8)
    for x, y, words in ((100, -9, "160"), (-12, HIGH / 2, "70"), (150, -9, "R5"), (100, -15, "16 THICK")):
        canvas.drawString(*at(x, y), words)
    canvas.setFont("Signs", 7)
    for number, note in enumerate(NOTES):
        canvas.drawString(40, 86 - 10 * number, note)
    for number, note in enumerate(("MATERIAL: C45", "SKIVER ARM, BELL KNIFE", "DWG 118-04  SCALE 1.3:1")):
        canvas.drawString(wide - 220, 80 - 12 * number, note)
    canvas.setLineWidth(0.6)
    canvas.rect(wide - 230, 44, 206, 52)
    canvas.save()


def make_dxf(path: Path) -> None:
    """The same in model space, with leaders, and ordinates from the corner of the part."""
    import ezdxf

    def at(x: float, y: float) -> tuple[float, float]:
        return CORNER[0] + x, CORNER[1] + y

    document = ezdxf.new("R2010", setup=True)
    document.header["$INSUNITS"] = 4
    space = document.modelspace()
    space.add_lwpolyline([at(0, 0), at(WIDE, 0), at(WIDE, HIGH), at(0, HIGH)], close=True)
    for x, y, sizes in HOLES:
        for size in sizes:
            space.add_circle(at(x, y), size / 2)
    for x in sorted({hole[0] for hole in HOLES}):
        low = min(hole[1] for hole in HOLES if hole[0] == x)
        space.add_ordinate_x_dim(at(x, low), (0, -low - 6), origin=CORNER, override=SMALL).render()
    for y in sorted({hole[1] for hole in HOLES}):
        near = min(hole[0] for hole in HOLES if hole[1] == y)
        space.add_ordinate_y_dim(at(near, y), (-near - 6, 0), origin=CORNER, override=SMALL).render()
    for lines, begins, hole in CALLOUTS:
        text = []
        for line in lines:
            words = ""
            for piece in _words(line):
                words += f"\\S{piece[0]}^ {piece[1]};" if isinstance(piece, tuple) else str(piece)
            text.append(words.replace("Ø", "%%c").replace("↧", "{\\Fgdt;x}").replace("⌴", "{\\Fgdt;v}"))
        placed = {"insert": at(*begins), "char_height": 2.5, "attachment_point": 1}
        space.add_mtext("\\P".join(text), dxfattribs=placed)
        x, y, sizes = HOLES[hole]
        reach = 0.7071 * sizes[0] / 2
        space.add_leader([at(x + reach, y + reach), at(begins[0] - 1.5, begins[1] - 1.5)])
    for number, note in enumerate((*NOTES, "MATERIAL: C45", "16 THICK")):
        space.add_text(note, height=2.5).set_placement(at(0, -24 - 4.5 * number))
    document.saveas(path)


def main() -> None:
    """Both."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    make_pdf(FOLDER / f"{NAME}.pdf")
    make_dxf(FOLDER / f"{NAME}.dxf")


if __name__ == "__main__":
    main()
