"""PDF backend: plays pages; the same pages give the same bytes."""

import io
from collections.abc import Sequence
from functools import cache

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from vivid_loom.sheets.paper.drawing import Circle, Line, Page, Primitive, Rect, Text
from vivid_loom.sheets.paper.metrics import register_fonts

__all__ = ["pdf_bytes"]


@cache
def _ink(colour: str) -> HexColor:
    return HexColor(colour)


def _style(canvas: Canvas, fill: str, stroke: str, width: float) -> None:
    if fill:
        canvas.setFillColor(_ink(fill))
    if stroke:
        canvas.setStrokeColor(_ink(stroke))
        canvas.setLineWidth(width * mm)


def _draw(canvas: Canvas, item: Primitive, height_mm: float) -> None:
    def y(value: float) -> float:
        return float((height_mm - value) * mm)

    if isinstance(item, Line):
        _style(canvas, "", item.colour, item.width)
        canvas.setDash([d * mm for d in item.dash] if item.dash else [])
        canvas.setLineCap(1 if item.cap == "round" else 0)
        path = canvas.beginPath()
        path.moveTo(item.points[0][0] * mm, y(item.points[0][1]))
        for px, py in item.points[1:]:
            path.lineTo(px * mm, y(py))
        canvas.drawPath(path)
        canvas.setDash([])
    elif isinstance(item, Rect):
        _style(canvas, item.fill, item.stroke, item.width)
        canvas.roundRect(
            item.x * mm,
            y(item.y + item.h),
            item.w * mm,
            item.h * mm,
            item.radius * mm,
            stroke=int(bool(item.stroke)),
            fill=int(bool(item.fill)),
        )
    elif isinstance(item, Circle):
        _style(canvas, item.fill, item.stroke, item.width)
        canvas.circle(
            item.x * mm,
            y(item.y),
            item.r * mm,
            stroke=int(bool(item.stroke)),
            fill=int(bool(item.fill)),
        )
    else:
        _text(canvas, item, y(item.y))


def _text(canvas: Canvas, item: Text, y: float) -> None:
    canvas.setFillColor(_ink(item.colour))
    canvas.setFont("B612-Bold" if item.bold else "B612", item.size * mm)
    place = {
        "start": canvas.drawString,
        "middle": canvas.drawCentredString,
        "end": canvas.drawRightString,
    }[item.anchor]
    place(item.x * mm, y, item.text)


def pdf_bytes(pages: Sequence[Page], title: str) -> bytes:
    """Return the pages as one PDF."""
    register_fonts()
    stream = io.BytesIO()
    canvas = Canvas(stream, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Vivid Loom")
    for page in pages:
        canvas.setPageSize((page.width_mm * mm, page.height_mm * mm))
        for item in page.items:
            _draw(canvas, item, page.height_mm)
        canvas.showPage()
    canvas.save()
    return stream.getvalue()
