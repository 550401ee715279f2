"""Peak memory of this program."""

from __future__ import annotations

from pathlib import Path


def peak_memory() -> float:
    """The peak resident memory of this program alone, in MiB.

    The kernel's own figure (VmHWM, proc(5)): what getrusage tells starts with the memory of the program that this
    one was started from.
    """
    for line in Path("/proc/self/status").read_text().splitlines():
        if line.startswith("VmHWM:"):
            return int(line.split()[1]) / 1024
    raise OSError("the kernel tells no VmHWM")
