"""From the clock's face back to the course of time, where clocks are put forward and back (IANA time zones)."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

#: No further ahead than this it is told that nothing changes: whoever wants to know more asks again.
HORIZON = timedelta(days=1)


def unchanged_until(now: datetime, shown: datetime | None) -> datetime:
    """Until when, from ``now`` on, nothing changes that changes when the clock shows ``shown``: not later than it does.

    ``now`` is aware, in the zone of the clock, ``shown`` naive and later than what the clock shows now, None for never.
    A clock that is put back shows some things twice, so that what has begun is not begun yet: that is a change too.
    The answer is at most ``HORIZON`` ahead, and ``now`` itself within the hour that is skipped or comes twice.
    """
    begun = now.astimezone(UTC)
    ends = [begun + HORIZON]
    if shown is not None:
        ends += [shown.replace(tzinfo=now.tzinfo, fold=fold).astimezone(UTC) for fold in (0, 1)]
    back = _put_back(now, begun + HORIZON)
    if back is not None:
        ends.append(back)
    return max(begun, min(ends))


def _put_back(now: datetime, horizon: datetime) -> datetime | None:
    """When the clock is put back before some moment; None where it is not."""
    zone, offset = now.tzinfo, now.utcoffset()
    assert zone is not None and offset is not None

    def is_back(moment: datetime) -> bool:
        shifted = moment.astimezone(zone).utcoffset()
        return shifted is not None and shifted < offset

    if not is_back(horizon):
        return None
    low, high = now.astimezone(UTC), horizon
    while high - low > timedelta(seconds=1):
        middle = low + (high - low) / 2
        low, high = (low, middle) if is_back(middle) else (middle, high)
    # Never later than the change: the second in which it lies begins before it.
    return low
