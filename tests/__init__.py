"""The tests. Hypothesis varies its examples from run to run, but not where a commit is judged; machines may be slow."""

import os
import tempfile
from pathlib import Path

from hypothesis import settings

settings.register_profile("metrograph", max_examples=60, deadline=None, derandomize=bool(os.environ.get("CI")))
settings.load_profile("metrograph")

# Whoever runs the tests has settings of their own, and a pager; neither may change what is tested.
os.environ["XDG_CONFIG_HOME"] = str(Path(tempfile.gettempdir()) / "metrograph-has-no-settings-here")
os.environ["PAGER"] = "cat"
