"""Markup that is written by hand: Liquid in HTML, and CSS, neither of which reaches out of its own piece."""
