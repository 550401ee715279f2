"""Telling news, and what of it somebody has not read."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, Literal

from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from navrel.server.inventory.models import Site

from .models import News, ReadUpTo

Kind = Literal["guard", "schedule", "publication", "remark"]
#: How long news is kept.
KEPT = timedelta(days=90)
MOST_WORDS = News._meta.get_field("words").max_length or 0


def tell(site: Site, kind: Kind, words: str, to: str, by: Any = None, key: str = "") -> None:
    """Tell the people of a site of something, but for whoever did it. What was told under a key is not told again."""
    line = " ".join(words.split())[:MOST_WORDS]
    news = News(site=site, kind=kind, words=line, to=to, by=by, key=key)
    News.objects.bulk_create([news], ignore_conflicts=bool(key))


def news_for(site: Site, user: Any) -> QuerySet[News]:
    """The news of a site for one of its people, newest first; what they did themselves is none to them."""
    return News.objects.filter(Q(by=None) | ~Q(by=user), site=site)


def read_up_to(site: Site, user: Any) -> int:
    """The id of the last news of a site that somebody has read."""
    place = ReadUpTo.objects.filter(site=site, user=user).values_list("last", flat=True).first()
    return place or 0


def unread(site: Site, user: Any) -> int:
    """How many news of a site somebody has not read."""
    return news_for(site, user).filter(pk__gt=read_up_to(site, user)).count()


@transaction.atomic
def mark_read(site: Site, user: Any, last: int) -> None:
    """Remember that somebody has read the news of a site up to one; never less than before."""
    place, made = ReadUpTo.objects.select_for_update().get_or_create(site=site, user=user, defaults={"last": last})
    if not made and last > place.last:
        place.last = last
        place.save(update_fields=["last"])


def forget_old() -> None:
    """Let go of news that nobody looks for any more."""
    News.objects.filter(made__lt=timezone.now() - KEPT).delete()
