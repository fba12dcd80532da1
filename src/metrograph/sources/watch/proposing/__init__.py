"""From screens to drafts: proposals, how sure they are, what a person decides, and which looks are known."""
