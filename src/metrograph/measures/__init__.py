"""The catalogue: every figure that a run has, one entry each, and how figures of several runs become one."""
