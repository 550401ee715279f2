"""When a processor stood still: from when to when, in seconds (CLOCK_MONOTONIC), a line each time.

Run as a program with the number of the processor, by the benchmark, until its input ends. Whoever sleeps is given a
turn within a few milliseconds, however many others work there, unless nobody is: on a machine that shares its
processors with other machines.
"""

import os
import select
import sys
import time

#: So often it looks, and from so many seconds on that takes too long.
_EVERY, _LATE = 0.002, 0.02

os.sched_setaffinity(0, {int(sys.argv[1])})
while True:
    since = time.monotonic()
    ended, _, _ = select.select([sys.stdin], [], [], _EVERY)
    if ended:
        break
    now = time.monotonic()
    if now - since > _LATE:
        print(since, now)
