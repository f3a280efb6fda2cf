"""The core's tests. Hypothesis measures no time: a busy machine is not a fault of the code."""

from hypothesis import settings

settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
