"""What is played as a sound: files of a bounded size, and nothing that has no end."""

from __future__ import annotations

import os
import tempfile
import wave
from pathlib import Path
from unittest import mock

from tests.helpers import Case
from yarn_puppet.desk.booth import sounds
from yarn_puppet.desk.booth.sounds import LARGEST, Sounds


class Playing(Case):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        # As on a machine that can be heard.
        self.sounds = Sounds()
        self.sounds._able = True
        self.played: list[Path] = []
        player = mock.patch.object(sounds, "plain_player", self.player)
        player.start()
        self.addCleanup(player.stop)

    def player(self, path: Path) -> mock.Mock:
        self.played.append(path)
        return mock.Mock()

    def sound(self, name: str) -> Path:
        path = self.folder / name
        with wave.open(str(path), "wb") as file:
            file.setnchannels(1)
            file.setsampwidth(2)
            file.setframerate(8000)
            file.writeframes(bytes(1600))
        return path

    def test_a_file_is_played(self) -> None:
        path = self.sound("step.wav")
        self.sounds.play(path)
        self.sounds.play(path, volume=0.5)
        self.assertEqual(self.played[0], path)
        self.assertEqual(len(self.played), 2)

    def test_pipes_devices_folders_and_what_is_gone_are_not(self) -> None:
        os.mkfifo(self.folder / "pipe.wav")
        (self.folder / "folder.wav").mkdir()
        (self.folder / "zero.wav").symlink_to("/dev/zero")
        for name in ("pipe.wav", "folder.wav", "zero.wav", "none.wav"):
            for volume in (1.0, 0.5):
                self.sounds.play(self.folder / name, volume)
        self.assertEqual(self.played, [])
        self.assertEqual(len(self.sounds.heard), 8)

    def test_what_is_too_large_is_not(self) -> None:
        path = self.sound("large.wav")
        os.truncate(path, LARGEST + 1)
        self.sounds.play(path, 0.5)
        self.assertEqual(self.played, [])
        os.truncate(path, LARGEST)
        self.sounds.play(path)
        self.assertEqual(self.played, [path])
