"""Spreads work over the cores of this machine, or over the machines of a cluster, with the same code.

Tasks know nothing of each other, so that it does not matter who does which, how often, or in which order.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import current_process, get_context
from typing import Any, TypeVar

from metrograph.core.errors import MetrographError, needs

Task = TypeVar("Task")
Result = TypeVar("Result")
Spread = Callable[[Callable[[Any], Any], Sequence[Any]], Iterator[Any]]
"""Does something with each of some tasks, and gives what comes of them in whatever order they are done."""

_RETRIES = 5  # of a task whose worker died


def spread(cluster: str | None = None, cores: int | None = None) -> Spread:
    """Over the workers of a Dask scheduler by its address, or else over cores here: all, or as many as is said."""
    if cluster is not None:
        return lambda work, tasks: _on_cluster(work, tasks, cluster)
    return lambda work, tasks: _here(work, tasks, cores or os.cpu_count() or 1)


def _here(work: Callable[[Task], Result], tasks: Sequence[Task], cores: int) -> Iterator[Result]:
    if cores < 2 or len(tasks) < 2 or current_process().daemon:  # such a process may have no others
        yield from map(work, tasks)
        return
    with ProcessPoolExecutor(min(cores, len(tasks)), get_context("spawn")) as pool:
        yield from pool.map(work, tasks)


def _on_cluster(work: Callable[[Task], Result], tasks: Sequence[Task], address: str) -> Iterator[Result]:
    distributed = needs("distributed", "cluster")
    try:
        client = distributed.Client(address, timeout="10s")
    except (OSError, ValueError) as error:
        raise MetrographError(f"there is no scheduler at {address}: {error}") from error
    with client:
        futures = client.map(work, tasks, retries=_RETRIES, pure=False)
        for _, result in distributed.as_completed(futures, with_results=True):
            yield result
