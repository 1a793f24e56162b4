"""The rules of the job: pure functions over frozen dataclasses. Knows nothing of screens, SQL or HTTP."""
