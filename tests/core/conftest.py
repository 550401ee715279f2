"""Laws are tried on other sites in every run, however busy the machine is: no deadline for a single one."""

from hypothesis import settings

settings.register_profile("laws", deadline=None, max_examples=60)
settings.load_profile("laws")
