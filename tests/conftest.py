"""Laws are tried on other sites in every run, however busy the machine is: nothing hangs on how long one takes."""

from hypothesis import HealthCheck, settings

settings.register_profile("laws", deadline=None, max_examples=60, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("laws")
