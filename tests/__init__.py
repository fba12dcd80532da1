"""The tests. Hypothesis varies its examples from run to run, but not where a commit is judged; machines may be slow."""

import os

from hypothesis import settings

settings.register_profile("metrograph", max_examples=60, deadline=None, derandomize=bool(os.environ.get("CI")))
settings.load_profile("metrograph")
