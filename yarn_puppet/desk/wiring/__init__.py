"""Actions, intents, senses, memos."""
