"""Lantern Row, the demo: its art, puppets and takes, as files. The scripts that make them are in `make`."""

from pathlib import Path

DEMO_FOLDER = Path(__file__).parent
DEMO_PUPPET = DEMO_FOLDER / "lamplighter.puppet.json"
DEMO_BOOTH = "rooftop.booth.json"
DEMO_TAKE = DEMO_FOLDER / "rooftop_chase.take.json"
