"""What all tests share."""

import os

from hypothesis import HealthCheck, settings

# Examples are timed by nothing: machines differ. The slow set runs many more of them.
settings.register_profile(
    "usual",
    deadline=None,
    max_examples=int(os.environ.get("NEXT_PENNY_EXAMPLES", "40")),
    suppress_health_check=[HealthCheck.too_slow],
)
settings.load_profile("usual")
