"""The shapes of layout files on their way out and in, on the wire."""

from rest_framework import serializers as s


class LayoutTree(s.Serializer):
    """A layout file, whole or in parts; its JSON Schema is printed by `./navrel schema`."""

    navrel = s.IntegerField(help_text="The version of the form, 1")
    site = s.DictField(required=False, help_text="What the site is, and the settings that it declares")
    taxonomies = s.ListField(child=s.DictField(), required=False, help_text="Taxonomies with their terms")
    pages = s.ListField(child=s.DictField(), required=False, help_text="Pages with their facts")
    menus = s.ListField(child=s.DictField(), required=False, help_text="Menus")
    dresses = s.ListField(child=s.DictField(), required=False, help_text="Dresses")
    files = s.ListField(child=s.DictField(), required=False, help_text="Pictures and fonts, with their bytes as base64")
    pieces = s.ListField(child=s.DictField(), required=False, help_text="Pieces")
    rules = s.ListField(child=s.DictField(), required=False, help_text="Rules, the highest first")
    guards = s.ListField(child=s.DictField(), required=False, help_text="Guards")


class PieceChoice(s.Serializer):
    """How a piece of a file is taken in."""

    slug = s.CharField(max_length=80, help_text="Its slug in the file")
    how = s.ChoiceField(choices=["add", "replace", "rename", "leave"], help_text="How")
    name = s.CharField(required=False, allow_blank=True, help_text="The name that it gets, where it is renamed")


class TakeInRequest(s.Serializer):
    """A layout file, and what of it is taken."""

    file = LayoutTree(help_text="The file")
    pieces = PieceChoice(many=True, required=False, help_text="How each piece is taken; others only where none clashes")
    only_named = s.BooleanField(required=False, help_text="Whether pieces that are not named are left out")
    rules = s.ChoiceField(
        choices=["none", "off", "as-written"],
        required=False,
        help_text="Whether its rules and guards come, and off or not",
    )
    pages = s.BooleanField(required=False, help_text="Whether its pages come")
    site = s.BooleanField(required=False, help_text="Whether what it says of the site itself counts here")


class TakenIn(s.Serializer):
    """What was taken in."""

    pieces = s.IntegerField(help_text="Pieces")
    rules = s.IntegerField(help_text="Rules")
    pages = s.IntegerField(help_text="Pages")
    files = s.IntegerField(help_text="Pictures and fonts in the file")


class LookRequest(s.Serializer):
    """A layout file."""

    file = LayoutTree(help_text="The file")


class FilePiece(s.Serializer):
    """A piece of a file."""

    slug = s.CharField(help_text="Its slug in the file")
    kind = s.CharField(help_text="Its kind")
    name = s.CharField(help_text="Its name")
    clash = s.CharField(help_text="The slug of the piece here that has its slug or its name; empty for none")
    clash_name = s.CharField(help_text="How that one is called")
    same = s.BooleanField(help_text="Whether both are alike")
    html = s.CharField(help_text="Its real rendering on this site, a whole HTML document")


class FileLook(s.Serializer):
    """What is in a file."""

    pieces = FilePiece(many=True, help_text="Its pieces")
    rules = s.ListField(child=s.CharField(), help_text="The names of its rules")
    pages = s.IntegerField(help_text="How many pages")
    new_pages = s.IntegerField(help_text="How many of them are not here")
    settings = s.ListField(child=s.CharField(), help_text="The names of its settings")
    menus = s.ListField(child=s.CharField(), help_text="The names of its menus")
    dresses = s.ListField(child=s.CharField(), help_text="The names of its dresses")
    files = s.ListField(child=s.CharField(), help_text="The names of its pictures and fonts")
    guards = s.ListField(child=s.CharField(), help_text="The names of its guards")
