"""How the cues of a log become a run: whose each moment is, and what each verb means."""
