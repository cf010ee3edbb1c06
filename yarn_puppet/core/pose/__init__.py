"""From report to what is drawn and what can be hit."""
