"""Pictures from outside: told by what is in them, written anew, harmless."""

import io

import pytest
from lxml import etree
from PIL import Image

from navrel.rendering.pictures import WIDTHS, read_picture
from navrel.rendering.taken import BadFile

SVG = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 40 20">{}</svg>'


def raster(kind="PNG", size=(2000, 1000), **more):
    out = io.BytesIO()
    Image.new("RGB", size, (20, 80, 120)).save(out, kind, **more)
    return out.getvalue()


@pytest.mark.parametrize(("kind", "media_type"), [("PNG", "image/png"), ("JPEG", "image/jpeg"), ("WEBP", "image/webp")])
def test_a_raster_picture_is_encoded_anew_with_smaller_versions(kind, media_type):
    found = read_picture(raster(kind))
    assert (found.type, found.width, found.height) == (media_type, 2000, 1000)
    assert tuple(found.smaller) == WIDTHS
    assert Image.open(io.BytesIO(found.smaller[480])).size == (480, 240)


def test_what_else_a_file_carries_is_left_behind():
    exif = Image.Exif()
    exif[0x010E] = "a secret place"
    found = read_picture(raster("JPEG", (60, 40), exif=exif) + b"<script>alert(1)</script>")
    assert b"secret" not in found.data and b"script" not in found.data
    turned = Image.Exif()
    turned[0x0112] = 6
    assert read_picture(raster("JPEG", (60, 40), exif=turned)).width == 40


def test_the_same_picture_taken_in_twice_is_the_same():
    once = read_picture(raster())
    assert read_picture(once.data).digest == once.digest
    drawing = read_picture(SVG.format('<path d="M0 0h4"/>').encode())
    assert read_picture(drawing.data).digest == drawing.digest
    assert (drawing.width, drawing.height) == (40, 20)


@pytest.mark.parametrize("inside", [
    "<script>alert(1)</script>", '<path onload="alert(1)"/>', "<foreignObject><b xmlns='http://www.w3.org/1999/xhtml'/></foreignObject>",
    '<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g><symbol id="c"/>',
    '<image href="https://evil.example/x.png"/>', '<use href="https://evil.example/x.svg#a"/>', '<use xlink:href="data:x"/>',
    "<style>*{background:url(https://evil.example)}</style>", '<path style="background:url(//evil.example)"/>',
    '<path fill="url(https://evil.example#a)"/>', '<a href="javascript:alert(1)"><path/></a>',
    '<animate attributeName="href" to="javascript:alert(1)"/>', '<set attributeName="onclick" to="alert(1)"/>',
    '<path fill="url( \\68ttps://evil.example)"/>', "<?xml-stylesheet href='https://evil.example'?>",
    '<handler xmlns="http://www.w3.org/2001/xml-events">alert(1)</handler>', '<path mask="url(javascript:alert(1))"/>',
    '<g><iframe xmlns="http://www.w3.org/1999/xhtml" src="https://evil.example"/></g>', '<path class="x" id="a b"/>',
])  # fmt: skip
def test_a_drawing_keeps_nothing_that_runs_or_reaches_out(inside):
    found = read_picture(SVG.format(f'<path d="M0 0h1"/>{inside}<rect width="3" height="3"/>').encode())
    text = found.data.decode()
    assert "<rect" in text and "<path" in text
    for word in (
        "evil",
        "alert",
        "javascript",
        "data:",
        "style",
        "script",
        "foreign",
        "animate",
        "onload",
        "use",
        "symbol",
    ):
        assert word not in text
    assert all(
        etree.QName(one).namespace == "http://www.w3.org/2000/svg" for one in etree.fromstring(found.data).iter()
    )


@pytest.mark.parametrize(("data", "why"), [
    (b"", "this file is empty"),
    (b"GIF89a broken", "this is no PNG"),
    (b"%PDF-1.7", "this is no PNG"),
    (b"<html><body>x</body></html>", "this is no PNG"),
    (b"<svg xmlns='http://www.w3.org/2000/svg'", "no drawing that can be read"),
    (b"<!DOCTYPE svg [<!ENTITY a 'b'>]><svg xmlns='http://www.w3.org/2000/svg'>&a;</svg>", "declares entities"),
    (SVG.format("").replace("viewBox", "x").encode(), "neither width and height nor a viewBox"),
    (SVG.format("").replace("0 0 40 20", "0 0 1e9 1e9").encode(), "at most 8000 pixels"),
    (SVG.format("").replace("0 0 40 20", "0 0 nan 2").encode(), "neither width and height"),
    (SVG.format("<g>" * 60000).encode(), "no drawing"),
    (b"\x89PNG\r\n\x1a\n" + b"\0" * 50, "this is no PNG"),
    (b"x" * (10 * 2**20 + 1), "at most 10 MiB"),
])  # fmt: skip
def test_what_is_no_picture_is_refused_with_the_reason(data, why):
    with pytest.raises(BadFile, match=why):
        read_picture(data)


def test_a_picture_of_too_many_pixels_is_not_decoded():
    with pytest.raises(BadFile, match="at most 8000"):
        read_picture(raster("PNG", (9000, 2)))


@pytest.mark.parametrize("kind", ["JPEG", "WEBP"])
def test_a_picture_without_anything_else_in_its_file_stays_as_it_is(kind):
    noisy = Image.effect_noise((300, 200), 90).convert("RGB")
    out = io.BytesIO()
    noisy.save(out, kind, quality=70)
    once = read_picture(out.getvalue())
    assert once.data == out.getvalue()
    again = read_picture(once.data)
    assert (again.data, again.digest) == (once.data, once.digest)
    exif = Image.Exif()
    exif[0x010E] = "a secret place"
    noted = io.BytesIO()
    noisy.save(noted, kind, quality=70, exif=exif)
    cleaned = read_picture(noted.getvalue())
    assert b"secret" not in cleaned.data
    assert read_picture(cleaned.data).digest == cleaned.digest


@pytest.mark.parametrize("kind", ["JPEG", "WEBP"])
@pytest.mark.parametrize("more", [b"<script>alert(1)</script>", b"\xff\xd9", b"\0" * 9])
def test_what_follows_a_picture_is_left_behind(kind, more):
    found = read_picture(raster(kind, (60, 40)) + more)
    assert not found.data.endswith(more) or more == b"\xff\xd9"
    assert b"script" not in found.data


def test_a_note_in_a_jpeg_is_left_behind():
    whole = raster("JPEG", (60, 40))
    note = b"\xff\xfe\x00\x1c<script>alert(1)</script>"
    assert b"script" not in read_picture(whole[:2] + note + whole[2:]).data
    assert b"script" not in read_picture(whole[:2] + b"\xff\xe1\x00\x1c<script>alert(1)</script>" + whole[2:]).data
