"""Pictures from outside, made harmless: told by what is in them, written anew, with smaller versions.

A raster picture is decoded and encoded again without what else the file carried; one that carries nothing else stays as
it is, so that taking it in again elsewhere changes nothing. A drawing (SVG 2) keeps an allow-list
of elements and attributes, none of which can run, animate, style other things or reach out; nor `use`, of which a few
lines can stand for billions of shapes.
"""

from __future__ import annotations

import io
import re
import warnings
from collections.abc import Mapping

from lxml import etree
from PIL import Image, ImageOps, UnidentifiedImageError

from .taken import BadFile, TakenFile

MAX_BYTES = 10 * 1024 * 1024
MAX_DRAWING_BYTES = 512 * 1024
MAX_SIDE = 8000
MAX_PIXELS = 40_000_000
#: Widths, in pixels, of the smaller versions that are made where a picture is wider.
WIDTHS = (480, 960, 1600)

_FORMATS: Mapping[str, tuple[str, str]] = {
    "JPEG": ("image/jpeg", ".jpg"), "PNG": ("image/png", ".png"), "WEBP": ("image/webp", ".webp"),
    "GIF": ("image/gif", ".gif"),
}  # fmt: skip
_SVG = "http://www.w3.org/2000/svg"
_ELEMENTS = {
    "svg", "g", "path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "text", "tspan", "title", "desc",
    "defs", "linearGradient", "radialGradient", "stop", "clipPath", "mask", "pattern",
}  # fmt: skip
_ATTRIBUTES = {
    "id", "viewBox", "preserveAspectRatio", "width", "height", "d", "x", "y", "x1", "x2", "y1", "y2", "cx", "cy", "r",
    "rx", "ry", "fx", "fy", "points", "transform", "fill", "fill-rule", "fill-opacity", "clip-rule", "stroke",
    "stroke-width", "stroke-linecap", "stroke-linejoin", "stroke-dasharray", "stroke-opacity", "opacity", "offset",
    "stop-color", "stop-opacity", "gradientUnits", "gradientTransform", "spreadMethod", "patternUnits",
    "patternTransform", "clipPathUnits", "maskUnits", "clip-path", "mask", "text-anchor", "font-size", "font-weight",
    "font-family", "letter-spacing", "role", "aria-label", "href",
}  # fmt: skip
#: What an attribute may point at: a part of the same drawing.
_INSIDE = re.compile(r"#[A-Za-z][\w-]*\Z")
_REACHES = re.compile(r"url\(\s*(?!['\"]?#)|javascript:|data:|https?:|//", re.IGNORECASE)
_LENGTH = re.compile(r"\s*([\d.]+)\s*(?:px)?\s*\Z")


def read_picture(data: bytes) -> TakenFile:
    """Read a picture, whatever it is called. Raises BadFile."""
    if len(data) > MAX_BYTES:
        raise BadFile(f"a picture has at most {MAX_BYTES // 2**20} MiB; this one has {len(data) / 2**20:.1f}")
    if not data:
        raise BadFile("this file is empty")
    begin = data[:1000].lstrip(b"\xef\xbb\xbf \t\r\n")
    return _read_drawing(data) if begin.startswith(b"<") else _read_raster(data)


def _read_raster(data: bytes) -> TakenFile:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            opened = Image.open(io.BytesIO(data), formats=list(_FORMATS))
            kind = opened.format or ""
            _check_size(*opened.size)
            opened.load()
            picture = ImageOps.exif_transpose(opened)
    except (UnidentifiedImageError, OSError, SyntaxError, Image.DecompressionBombError, Warning) as error:
        raise BadFile("this is no PNG, JPEG, WebP, GIF or SVG picture that can be read") from error
    if picture.mode not in ("RGB", "RGBA", "L", "LA", "P"):
        picture = picture.convert("RGB")
    if kind == "JPEG" and picture.mode not in ("RGB", "L"):
        picture = picture.convert("RGB")
    smaller = {
        width: _encoded(picture.convert("RGBA" if picture.mode == "P" else picture.mode), kind, width)
        for width in WIDTHS
        if width < picture.width and kind != "GIF"
    }
    media_type, ending = _FORMATS[kind]
    whole = data if _is_bare(kind, data) else _encoded(picture, kind)
    return TakenFile(media_type, ending, whole, picture.width, picture.height, smaller)


def _is_bare(kind: str, data: bytes) -> bool:
    """Whether a file holds a picture and nothing else: no notes, no previews, nothing after its end."""
    return (kind == "JPEG" and _is_bare_jpeg(data)) or (kind == "WEBP" and _is_bare_webp(data))


#: Markers of JPEG (ITU-T T.81, table B.1) that make up the picture: frames, tables, restarts, the plain JFIF header.
_JPEG_PICTURE = (0xC0, 0xC1, 0xC2, 0xC4, 0xDB, 0xDD, 0xE0)


def _is_bare_jpeg(data: bytes) -> bool:
    at = 2
    while data[at : at + 1] == b"\xff" and at + 4 <= len(data):
        marker, size = data[at + 1], int.from_bytes(data[at + 2 : at + 4])
        if marker == 0xDA:
            # Within what is drawn no marker stands but restarts; it ends with the file.
            end = data.find(b"\xff\xd9", at)
            inside = re.search(rb"\xff[^\x00\xd0-\xd7\xff]", data[at + 2 + size : end])
            later = inside is not None and inside[0][1] not in (0xC4, 0xDA, 0xDB, 0xDD)
            return end == len(data) - 2 and not later
        if marker not in _JPEG_PICTURE or (marker == 0xE0 and size != 16):
            return False
        at += 2 + size
    return False


def _is_bare_webp(data: bytes) -> bool:
    at, end = 12, int.from_bytes(data[4:8], "little") + 8
    while at + 8 <= end == len(data):
        name, size = data[at : at + 4], int.from_bytes(data[at + 4 : at + 8], "little")
        if name not in (b"VP8 ", b"VP8L", b"VP8X", b"ALPH"):
            return False
        at += 8 + size + size % 2
    return at == end == len(data)


def _check_size(width: int, height: int) -> None:
    if width > MAX_SIDE or height > MAX_SIDE or width * height > MAX_PIXELS:
        raise BadFile(f"a picture has at most {MAX_SIDE} pixels a side; this one is {width} by {height}")


def _encoded(picture: Image.Image, kind: str, width: int = 0) -> bytes:
    out = io.BytesIO()
    if width:
        picture = picture.resize((width, max(1, round(picture.height * width / picture.width))))
    clean = Image.new(picture.mode, picture.size)
    if picture.mode == "P":
        clean.putpalette(picture.getpalette() or [])
        if "transparency" in picture.info:
            clean.info["transparency"] = picture.info["transparency"]
    clean.paste(picture)
    clean.save(out, kind, **({"quality": 82, "optimize": True} if kind in ("JPEG", "WEBP") else {}))
    return out.getvalue()


def _read_drawing(data: bytes) -> TakenFile:
    if len(data) > MAX_DRAWING_BYTES:
        raise BadFile(f"a drawing has at most {MAX_DRAWING_BYTES // 1024} KiB")
    if b"<!ENTITY" in data.upper():
        raise BadFile("this drawing declares entities; leave them out")
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, remove_comments=True, remove_pis=True
    )
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise BadFile(f"this is no drawing that can be read: {error}") from error
    if root.tag != f"{{{_SVG}}}svg":
        raise BadFile("this is no PNG, JPEG, WebP, GIF or SVG picture that can be read")
    for element in list(root.iter()):
        _clean(element)
    width, height = _drawn_size(root)
    etree.cleanup_namespaces(root)
    return TakenFile("image/svg+xml", ".svg", etree.tostring(root, encoding="utf-8"), width, height)


def _clean(element: etree._Element) -> None:
    parent = element.getparent()
    name = etree.QName(element) if isinstance(element.tag, str) else None
    if name is None or name.namespace != _SVG or name.localname not in _ELEMENTS:
        if parent is not None:
            _drop(parent, element)
        return
    for key, value in list(element.attrib.items()):
        local = etree.QName(key).localname
        del element.attrib[key]
        plain = str(value)
        if local not in _ATTRIBUTES or (local == "href" and not _INSIDE.match(plain)):
            continue
        if _REACHES.search(re.sub(r"\s|\\", "", plain)):
            continue
        element.set(local, plain)


def _drop(parent: etree._Element, element: etree._Element) -> None:
    """Take an element out with all in it; the text after it stays."""
    tail = element.tail
    if tail:
        before = element.getprevious()
        if before is not None:
            before.tail = (before.tail or "") + tail
        else:
            parent.text = (parent.text or "") + tail
    parent.remove(element)


def _drawn_size(root: etree._Element) -> tuple[int, int]:
    """The size of a drawing: as it states, else that of its view box. It is written into it."""
    stated = [_LENGTH.match(root.get(key, "")) for key in ("width", "height")]
    box = (root.get("viewBox") or "").replace(",", " ").split()
    try:
        sizes = [float(one[1]) for one in stated if one] if all(stated) else [float(box[2]), float(box[3])]
        width, height = round(sizes[0]), round(sizes[1])
    except (IndexError, ValueError, OverflowError):
        raise BadFile("this drawing states neither width and height nor a viewBox") from None
    if width < 1 or height < 1:
        raise BadFile("this drawing has no size")
    _check_size(width, height)
    root.set("width", str(width))
    root.set("height", str(height))
    return width, height
