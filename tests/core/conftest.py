"""Laws are tried on as many sites as it takes, however busy the machine is: no deadline for a single one."""

from hypothesis import settings

settings.register_profile("laws", deadline=None)
settings.load_profile("laws")
