"""The patterns that ship: puppets whose states wait for clips, as files. The scripts that make them
are in `make`."""

from pathlib import Path

PATTERN_FOLDER = Path(__file__).parent
PATTERNS = ("walker", "climber", "brawler", "wanderer")
"""In the order in which they are put into a puppet: the ground comes first."""
