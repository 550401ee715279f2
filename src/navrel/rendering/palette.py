"""The colours that pieces carry in the interface. Neighbours differ in lightness as well as in hue."""

COLOURS = (
    "#2F6DA8", "#C98A3A", "#5B7F4B", "#8C6BA8", "#4C8C8A", "#B65C72", "#3B3F63", "#B4A13A",
    "#C05B37", "#5D9CC4", "#6B6F76", "#D39AA7", "#7A8F2E", "#A04D8C", "#93A86A", "#6A7FB5",
    "#8A5A3C", "#74B3A8", "#54416E", "#D07F5A", "#1F6B5C", "#B08FC7", "#9A3B3B", "#8FA3AD",
)  # fmt: skip


def colour(number: int) -> str:
    """The colour at a place of the palette, which repeats."""
    return COLOURS[number % len(COLOURS)]
