"""Effects and their edits: models and their rules."""
