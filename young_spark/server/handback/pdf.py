"""The report as PDF, with its own fonts and the verdict marks drawn as shapes."""

import io
from pathlib import Path

from fpdf import FPDF
from fpdf.enums import XPos, YPos
from fpdf.fonts import FontFace

from young_spark.core.figure import Verdict
from young_spark.core.job.tables import Cell
from young_spark.server.handback.report import ComparisonOut, Report, TableOf
from young_spark.server.jobs.kept_files import kept

FONTS = Path(__file__).parent / "fonts"
PETROL, INK, PALE = (11, 93, 102), (34, 33, 29), (90, 86, 76)
WIDTHS = (54.0, 38.0, 38.0, 40.0)
ROW_MM = 5.0
# signs the shipped font has not, said in ones that it has
PLAIN = str.maketrans(
    {"Ω": "ohm", "µ": "u", "→": "->", "≤": "<=", "≥": ">=", "√": "root ", "ρ": "rho", "⁻": "-", "⁶": "6"}
)


def _plain(text: str) -> str:
    return text.translate(PLAIN)


class _Sheet(FPDF):
    """A4 with the shop's fonts and a foot on every page."""

    def __init__(self, report: Report) -> None:
        super().__init__(format="A4")
        self.report = report
        self.set_margins(20, 18)
        self.set_auto_page_break(True, 20)
        self.add_font("Slip", "", FONTS / "regular.ttf")
        self.add_font("Slip", "B", FONTS / "bold.ttf")
        self.set_title(f"Report {report.number}: {report.unit}")

    def footer(self) -> None:
        self.set_y(-14)
        self.write_line(
            f"Report {self.report.number} · {self.report.unit} · page {self.page_no()}", size=9, colour=PALE
        )

    def write_line(self, text: str, *, size: float = 11, style: str = "", colour: tuple[int, int, int] = INK) -> None:
        """A paragraph in the running width."""
        self.set_font("Slip", style, size)
        self.set_text_color(*colour)
        self.multi_cell(0, size * 0.5, _plain(text), new_x=XPos.LMARGIN, new_y=YPos.NEXT)

    def heading(self, text: str) -> None:
        """A section's title above its hairline."""
        self.ln(3)
        self.set_draw_color(207, 200, 184)
        self.line(self.l_margin, self.get_y(), self.w - self.r_margin, self.get_y())
        self.ln(2)
        self.write_line(text, size=12, style="B", colour=PETROL)


def _mark(sheet: _Sheet, verdict: Verdict | None, x: float, y: float) -> None:
    """The verdict's mark, 3 mm: round for within, lozenge for outside, a dash for none; half or full as on screen."""
    sheet.set_draw_color(*INK)
    sheet.set_fill_color(*INK)
    if verdict in {Verdict.PASS, Verdict.PASS_CLOSE}:
        sheet.ellipse(x, y, 3, 3, style="DF" if verdict is Verdict.PASS else "D")
        if verdict is Verdict.PASS_CLOSE:
            sheet.solid_arc(x, y, 3, 90, 270, style="F")
    elif verdict in {Verdict.FAIL, Verdict.FAIL_CLOSE}:
        points = [(x + 1.5, y), (x + 3, y + 1.5), (x + 1.5, y + 3), (x, y + 1.5)]
        sheet.polygon(points, style="D")
        if verdict is Verdict.FAIL_CLOSE:
            sheet.polygon([points[0], points[2], points[3]], style="F")
    elif verdict is Verdict.NO_VERDICT:
        sheet.line(x, y + 1.5, x + 3, y + 1.5)


def _cell(sheet: _Sheet, x: float, y: float, width: float, text: str, small: str, verdict: Verdict | None) -> float:
    indent = 4.5 if verdict is not None else 0
    if verdict is not None:
        _mark(sheet, verdict, x, y + 1)
    bottom = y
    for words, size, colour in ((text, 10, INK), (small, 8.5, PALE)):
        if words:
            sheet.set_xy(x + indent, bottom)
            sheet.set_font("Slip", "", size)
            sheet.set_text_color(*colour)
            sheet.multi_cell(width - indent - 2, size * 0.5, _plain(words), align="L")
            bottom = sheet.get_y()
    return bottom


def _row(sheet: _Sheet, row: ComparisonOut) -> None:
    if sheet.get_y() > sheet.h - 45:
        sheet.add_page()
    y, x = sheet.get_y() + 1.5, sheet.l_margin
    limits = "\n".join(f"{limit.kind}: {limit.words}" for limit in row.limits)
    cells = (
        (row.name, " · ".join(filter(None, (row.item, row.where))), None),
        (row.before or "not measured", row.before_words, row.before_verdict),
        (row.after or "not measured", row.in_work or row.after_words, row.after_verdict),
        ("", limits, None),
    )
    bottoms = []
    for width, (text, small, verdict) in zip(WIDTHS, cells, strict=True):
        bottoms.append(_cell(sheet, x, y, width, text, small, verdict))
        x += width
    sheet.set_draw_color(226, 220, 205)
    sheet.line(sheet.l_margin, max(bottoms) + 1, sheet.w - sheet.r_margin, max(bottoms) + 1)
    sheet.set_y(max(bottoms) + 1)


GROUP_WORDS = {"also": "Also measured", "not_as_it_leaves": "Taken in another state than it leaves in"}


def _table(sheet: _Sheet, rows: list[ComparisonOut]) -> None:
    sheet.ln(2)
    x, y = sheet.l_margin, sheet.get_y()
    for width, title in zip(WIDTHS, ("Figure", "As received", "As it leaves", "Limits"), strict=True):
        sheet.set_xy(x, y)
        sheet.set_font("Slip", "", 9)
        sheet.set_text_color(*PALE)
        sheet.cell(width, 5, title)
        x += width
    sheet.set_y(y + 5)
    group = "planned"
    for row in rows:
        if row.group != group:
            group = row.group
            sheet.write_line(GROUP_WORDS[group], size=10, style="B")
        _row(sheet, row)


def _places(sheet: _Sheet, told: TableOf) -> None:
    """A table of figures over places, as wide as the sheet."""
    table = told.table
    if sheet.get_y() > sheet.h - 30 - ROW_MM * (2 + len(table.rows)):
        sheet.add_page()
    sheet.ln(3)
    sheet.write_line(", ".join(filter(None, (table.title, told.item))), size=10, style="B")
    sheet.set_font("Slip", "", 9)
    sheet.set_text_color(*INK)
    sheet.set_draw_color(226, 220, 205)
    with sheet.table(
        borders_layout="HORIZONTAL_LINES", line_height=ROW_MM, text_align="LEFT", headings_style=FontFace(color=PALE)
    ) as drawn:
        drawn.row(["", *(_plain(column.name) for column in table.columns)])
        for row in table.rows:
            drawn.row([row.where, *(_plain(_cell_words(cell)) for cell in row.cells)])
    for words in table.says:
        sheet.write_line(f"{words}.", size=9, colour=PALE)


def _cell_words(cell: Cell | None) -> str:
    if cell is None:
        return ""
    return " -> ".join(filter(None, (cell.before, cell.now)))


def report_pdf(report: Report) -> bytes:
    """The report's PDF, A4."""
    sheet = _Sheet(report)
    sheet.add_page()
    sheet.write_line(report.unit, size=20, style="B")
    facts = [f"Report {report.number}", f"serial {report.serial}" if report.serial else "", report.owner]
    back = f", handed back {report.handed_back:%d %B %Y}" if report.handed_back else ""
    sheet.write_line(" · ".join(f for f in facts if f), colour=PALE)
    sheet.write_line(f"Came in {report.came_in:%d %B %Y}{back} · {', '.join(report.people)}", colour=PALE)
    for section in report.sections:
        sheet.heading(section.title)
        for sentence in section.sentences:
            if sentence.text:
                sheet.write_line(sentence.text)
        if section.id == "result" and report.compared:
            _table(sheet, report.compared)
            for told in report.tables:
                _places(sheet, told)
    if report.parts:
        sheet.heading("Parts")
        for part in report.parts:
            sheet.write_line(part.words + (f": {part.cost:.2f}" if part.cost is not None else ""))
        if report.cost:
            sheet.write_line(f"Together {report.cost:.2f}")
    _pictures(sheet, report)
    sheet.ln(3)
    sheet.write_line(report.notice, size=9, colour=PALE)
    return bytes(sheet.output())


def _pictures(sheet: _Sheet, report: Report) -> None:
    for words in report.not_whole:
        sheet.write_line(f"{words}.", size=9, colour=PALE)
    for picture in report.pictures:
        if picture.not_whole:
            sheet.write_line(f"{picture.not_whole}.", size=9, colour=PALE)
        else:
            if sheet.get_y() > sheet.h - 90:
                sheet.add_page()
            sheet.ln(3)
            sheet.image(io.BytesIO(kept(picture.sha256, picture.words)), w=90, h=60, keep_aspect_ratio=True)
            sheet.write_line(picture.words, size=9, colour=PALE)
