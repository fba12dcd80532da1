"""The language of the run log: cues and their text, what each verb takes, what is wrong in a line, what was meant."""
