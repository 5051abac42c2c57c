"""SVG backend: plays layers of primitives at full size, in mm."""

from collections.abc import Mapping, Sequence
from xml.sax.saxutils import escape, quoteattr

from vivid_loom.sheets.paper.drawing import Circle, Line, Primitive, Rect

__all__ = ["svg_bytes"]


def _number(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")


def _element(item: Primitive, name: str) -> str:
    told = f" id={quoteattr(name)}" if name else ""
    if isinstance(item, Line):
        points = " ".join(f"{_number(x)},{_number(y)}" for x, y in item.points)
        dash = " ".join(map(_number, item.dash))
        dashed = f' stroke-dasharray="{dash}"' if dash else ""
        return (
            f'<polyline{told} points="{points}" fill="none" stroke="{item.colour}" '
            f'stroke-width="{_number(item.width)}"{dashed}/>'
        )
    if isinstance(item, Rect):
        return (
            f'<rect{told} x="{_number(item.x)}" y="{_number(item.y)}" width="{_number(item.w)}" '
            f'height="{_number(item.h)}" rx="{_number(item.radius)}" fill="{item.fill or "none"}" '
            f'stroke="{item.stroke or "none"}" stroke-width="{_number(item.width)}"/>'
        )
    if isinstance(item, Circle):
        return (
            f'<circle{told} cx="{_number(item.x)}" cy="{_number(item.y)}" r="{_number(item.r)}" '
            f'fill="{item.fill or "none"}" stroke="{item.stroke or "none"}" '
            f'stroke-width="{_number(item.width)}"/>'
        )
    weight = ' font-weight="bold"' if item.bold else ""
    return (
        f'<text{told} x="{_number(item.x)}" y="{_number(item.y)}" font-size="{_number(item.size)}"'
        f'{weight} fill="{item.colour}" text-anchor="{item.anchor}">{escape(item.text)}</text>'
    )


def svg_bytes(
    layers: Mapping[str, Sequence[tuple[str, Primitive]]],
    size_mm: tuple[float, float],
    title: str,
) -> bytes:
    """Return a drawing as SVG, one unit to the mm.

    Args:
        layers: (id, item) by the layer's name, in the order they are painted; '' for no id.
    """
    width, height = (_number(value) for value in size_mm)
    parts = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}" font-family="B612, sans-serif">',
        f"<title>{escape(title)}</title>",
    ]
    for name, items in layers.items():
        parts.append(f"<g id={quoteattr(name)}>")
        parts += [_element(item, told) for told, item in items]
        parts.append("</g>")
    parts.append("</svg>\n")
    return "\n".join(parts).encode()
