"""What all tests share."""

from hypothesis import HealthCheck, Phase, settings

from effort import SHRINKS, examples

# Examples are timed by nothing: machines differ. The slow set runs many more of them.
settings.register_profile(
    "usual",
    deadline=None,
    max_examples=examples(40),
    suppress_health_check=[HealthCheck.too_slow],
    phases=tuple(Phase) if SHRINKS else (Phase.explicit, Phase.generate),
)
settings.load_profile("usual")
