"""Five sites of Marrowick Ferries, each built as differently as real ones are, with what is expected of taking them in.

Each module has `files()`, by name; `FACTS`: what is to be read of some or all pages; `BINDINGS`: which slots are where;
`RECIPE`: where facts stand that it takes telling to find, and `TOLD`: what is to be read by it besides;
`FINDS`: how many pages show each thing in a slot, the most first, and how many show something of their own.
"""

from pathlib import Path
from types import ModuleType

from . import folders, guide, journal, old, shop

SITES = {"guide": guide, "journal": journal, "old": old, "shop": shop, "folders": folders}
#: A picture of one pixel.
PNG = bytes.fromhex(
    "89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c4890000000d49444154789c6360f8cf500f00"
    "0383018078fb6d3b0000000049454e44ae426082"
)


def write(built: ModuleType, folder: Path) -> Path:
    """Write the files of a site into a folder."""
    for name, data in built.files().items():
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_bytes(data)
    return folder
