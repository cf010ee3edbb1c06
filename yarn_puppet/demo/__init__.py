"""Lantern Row, the demo: its art, puppets and takes, as files. The scripts that make them are in
`make`."""

from pathlib import Path

DEMO_FOLDER = Path(__file__).parent
DEMO_PUPPET = DEMO_FOLDER / "lamplighter.puppet.json"
FIRST_STEPS = DEMO_FOLDER / "first_steps.puppet.json"
"""A smaller puppet to look into first: eight states of the same art."""
DEMO_BOOTH = "rooftop.booth.json"
DEMO_TAKE = DEMO_FOLDER / "rooftop_chase.take.json"
