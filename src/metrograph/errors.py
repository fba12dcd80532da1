"""One family of exceptions, so that a caller can tell our errors from bugs and each knows its exit code."""


class MetrographError(Exception):
    """A call or an input that cannot be used; its text is a sentence for the person who made it."""

    exit_code = 2


class NotWritableError(MetrographError):
    """The logbook could not be written: a full disk, a read-only folder, a file that somebody else owns."""

    exit_code = 3
