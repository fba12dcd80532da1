"""Many runs: flows laid beside each other, what changed, what may be concluded, what limits them, who is kin."""
