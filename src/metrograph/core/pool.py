"""Spreads work over the cores of this machine, or over the machines of a cluster: the one place that starts workers.

Tasks know nothing of each other, so that it does not matter who does which, how often, or in which order.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from typing import Any, TypeVar

from metrograph.core.errors import MetrographError, needs

Task = TypeVar("Task")
Done = TypeVar("Done")
Spread = Callable[[Callable[[Any], Any], Sequence[Any]], Iterator[Any]]
"""Does something with each of some tasks, and gives what comes of them in whatever order they are done."""

_RETRIES = 5  # of a task whose worker died


def spread(cluster: str | None = None, cores: int | None = None) -> Spread:
    """Over the workers of a Dask scheduler by its address, or else over cores here: all, or as many as is said."""
    if cluster is not None:
        return lambda work, tasks: _on_cluster(work, tasks, cluster)
    return lambda work, tasks: _here(work, tasks, cores)


def copies(
    work: Callable[[Task], Done], tasks: Sequence[Task], begin: tuple[Callable[..., Any], tuple[Any, ...]] | None = None
) -> Iterator[Done]:
    """Over all cores, in the order of the tasks; each worker begins as a copy of this process.

    So nothing has to be handed over but tasks, and nothing loaded anew. begin: called first in each worker, as what
    ``work`` finds in its surroundings.
    """
    if not has_cores(len(tasks)):
        if begin is not None:
            begin[0](*begin[1])
        return map(work, tasks)
    return _processes("fork", None, work, tasks, begin)


def has_cores(tasks: int, cores: int | None = None) -> bool:
    """Whether so many tasks are done by several workers here; a worker may have none of its own."""
    from multiprocessing import current_process

    return min(cores or os.cpu_count() or 1, tasks) > 1 and not current_process().daemon


def _here(work: Callable[[Task], Done], tasks: Sequence[Task], cores: int | None) -> Iterator[Done]:
    if not has_cores(len(tasks), cores):
        return map(work, tasks)
    # What reads archives has threads of its own, which a copy of this process would lack.
    return _processes("spawn", cores, work, tasks, None)


def _processes(
    start: str,
    cores: int | None,
    work: Callable[[Task], Done],
    tasks: Sequence[Task],
    begin: tuple[Callable[..., Any], tuple[Any, ...]] | None,
) -> Iterator[Done]:
    # Most calls need no workers, and loading what makes them takes as long as many a call.
    from concurrent.futures import ProcessPoolExecutor
    from multiprocessing import get_context

    count = min(cores or os.cpu_count() or 1, len(tasks))
    with ProcessPoolExecutor(count, get_context(start), *(begin or ())) as pool:
        yield from pool.map(work, tasks)


def _on_cluster(work: Callable[[Task], Done], tasks: Sequence[Task], address: str) -> Iterator[Done]:
    distributed = needs("distributed", "cluster")
    try:
        client = distributed.Client(address, timeout="10s")
    except (OSError, ValueError) as error:
        raise MetrographError(f"there is no scheduler at {address}: {error}") from error
    with client:
        futures = client.map(work, tasks, retries=_RETRIES, pure=False)
        for _, result in distributed.as_completed(futures, with_results=True):
            yield result
