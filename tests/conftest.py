"""What all tests share."""

from hypothesis import HealthCheck, settings

from effort import examples

# Examples are timed by nothing: machines differ. The slow set runs many more of them.
settings.register_profile(
    "usual",
    deadline=None,
    max_examples=examples(40),
    suppress_health_check=[HealthCheck.too_slow],
)
settings.load_profile("usual")
