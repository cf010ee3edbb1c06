"""From clips of bones to poses. docs/poses.md has the rules."""
