"""The patterns that ship: puppets whose states wait for clips, as files. The scripts that make them
are in `make`."""

from pathlib import Path

PATTERN_FOLDER = Path(__file__).parent
TAKES_FOLDER = PATTERN_FOLDER / "takes"
"""What each is played with. They lie apart: kept takes of a puppet lie beside it, and a pattern by
itself plays nothing."""
PATTERNS = ("walker", "climber", "brawler", "wanderer")
"""In the order in which they are put into a puppet: the ground comes first."""
