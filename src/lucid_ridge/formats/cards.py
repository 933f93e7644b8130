"""Field cards on paper: one page or more of A5, large enough to read by a headlamp, black on white."""

from __future__ import annotations

from dataclasses import dataclass, field
from io import BytesIO
from xml.sax.saxutils import escape

from reportlab.lib.colors import black, whitesmoke
from reportlab.lib.pagesizes import A5
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import (
    Flowable,
    KeepTogether,
    PageBreak,
    Paragraph,
    SimpleDocTemplate,
    Spacer,
    Table,
    TableStyle,
)

# The typeface that comes with the library is embedded, so that a card looks the same everywhere.
pdfmetrics.registerFont(TTFont("Vera", "Vera.ttf"))
pdfmetrics.registerFont(TTFont("VeraBd", "VeraBd.ttf"))

# It knows no thirds of a stop and no minus; a card says them so.
_PLAIN = str.maketrans(
    {
        "−": "-",
        "⅓": " 1/3",
        "⅔": " 2/3",
        "⅙": " 1/6",
        "⅚": " 5/6",
        "∞": "infinity",
        "→": "to",
        "′": "'",
        "≤": "at most ",
        "λ": "lambda",
    }
)
_TITLE = ParagraphStyle("title", fontName="VeraBd", fontSize=14, leading=17)
_TEXT = ParagraphStyle("text", fontName="Vera", fontSize=8, leading=10.5)
_STRONG = ParagraphStyle("strong", parent=_TEXT, fontName="VeraBd")
_HEAD = ParagraphStyle("head", parent=_TEXT, fontName="VeraBd", fontSize=7.5)


_SHORT = 8


@dataclass(frozen=True)
class CardTable:
    """A table of a card: a heading, the columns, and rows of as many cells. Widths are shares of the page."""

    heading: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    widths: tuple[float, ...]


@dataclass(frozen=True)
class Card:
    """What a card says, from the top."""

    title: str
    under: str
    facts: tuple[tuple[str, str], ...] = ()
    tables: tuple[CardTable, ...] = ()
    notes: tuple[str, ...] = field(default=())


def plain(text: str) -> str:
    """Text in the letters that the card's typeface has."""
    known = text.translate(_PLAIN)
    return known.encode("cp1252", errors="replace").decode("cp1252").strip()


def _cell(text: str, style: ParagraphStyle = _TEXT) -> Paragraph:
    return Paragraph(escape(plain(text)).replace("\n", "<br/>"), style)


def card_pdf(card: Card) -> bytes:
    """The card as PDF, A5 upright; tables run over pages and repeat their heads."""
    return cards_pdf([card])


def cards_pdf(cards: list[Card]) -> bytes:
    """Cards as one PDF, each on a page of its own; see `card_pdf`. The first gives its title."""
    out = BytesIO()
    page = SimpleDocTemplate(
        out, pagesize=A5, leftMargin=9 * mm, rightMargin=9 * mm, topMargin=9 * mm, bottomMargin=9 * mm,
        title=plain(cards[0].title), author="Lucid Ridge",
    )  # fmt: skip
    flow: list[Flowable] = []
    for card in cards:
        flow += [PageBreak(), *_flow(card)] if flow else _flow(card)
    page.build(flow)
    return out.getvalue()


def _flow(card: Card) -> list[Flowable]:
    wide = A5[0] - 18 * mm
    flow: list[Flowable] = [_cell(card.title, _TITLE), _cell(card.under), Spacer(1, 3 * mm)]
    if card.facts:
        facts = Table(
            [[_cell(name), _cell(text, _STRONG)] for name, text in card.facts], colWidths=[wide * 0.32, wide * 0.68]
        )
        facts.setStyle(
            TableStyle(
                [
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("TOPPADDING", (0, 0), (-1, -1), 1),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 1),
                ]
            )
        )
        flow += [facts, Spacer(1, 3 * mm)]
    for one in card.tables:
        rows = [[_cell(name, _HEAD) for name in one.columns], *([_cell(text) for text in row] for row in one.rows)]
        table = Table(rows, colWidths=[wide * share for share in one.widths], repeatRows=1)
        table.setStyle(
            TableStyle(
                [
                    ("GRID", (0, 0), (-1, -1), 0.4, black),
                    ("BACKGROUND", (0, 0), (-1, 0), whitesmoke),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("LEFTPADDING", (0, 0), (-1, -1), 3),
                    ("RIGHTPADDING", (0, 0), (-1, -1), 3),
                    ("TOPPADDING", (0, 0), (-1, -1), 2),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
                ]
            )
        )
        headed: list[Flowable] = [_cell(one.heading, _STRONG), Spacer(1, 1 * mm), table, Spacer(1, 3 * mm)]
        # A short table does not part from its heading; a long one runs over.
        flow += [KeepTogether(headed)] if len(rows) <= _SHORT else headed
    flow += [_cell(note) for note in card.notes]
    return flow
