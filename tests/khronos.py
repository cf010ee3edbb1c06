"""Khronos' own validator of glTF files, where it was installed: an npm package, run by Node."""

from __future__ import annotations

import json
import shutil
import subprocess
from pathlib import Path
from typing import Any

PACKAGE = Path(__file__).parents[1] / ".venv" / "node" / "node_modules" / "gltf-validator"
WORDS = """
const {readFileSync} = require("node:fs");
const validator = require(process.argv[1]);
Promise.all(process.argv.slice(2).map(
  (file) => validator.validateBytes(new Uint8Array(readFileSync(file)), {maxIssues: 50}),
)).then((all) => console.log(JSON.stringify(all.map((each) => each.issues.messages))));
"""


def is_there() -> bool:
    """Whether it can be asked."""
    return PACKAGE.is_dir() and shutil.which("node") is not None


def complaints(*files: Path) -> list[list[dict[str, Any]]]:
    """Its errors and warnings for each file."""
    done = subprocess.run(["node", "-e", WORDS, "--", str(PACKAGE), *map(str, files)],
                          capture_output=True, text=True, check=True)
    found: list[list[dict[str, Any]]] = json.loads(done.stdout)
    return [[each for each in messages if each["severity"] <= 1] for messages in found]
