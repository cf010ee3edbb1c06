"""A good citizen of the desktop: where the window stands, what it remembers, what its keys are,
what is new."""

from __future__ import annotations

import shutil
from pathlib import Path
from unittest import mock

import msgspec
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog

from tests.desk.case import DeskCase
from tests.helpers import Case
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET, FIRST_STEPS
from yarn_puppet.desk.clips.incoming.bringing_in import PICTURES
from yarn_puppet.desk.pictures.preview import PicturePreview
from yarn_puppet.desk.session.settings import load_settings, settings_path
from yarn_puppet.desk.shell.news import NEWS
from yarn_puppet.desk.shell.pages import PAGES
from yarn_puppet.desk.shell.place import LEAST_SIZE, placed
from yarn_puppet.desk.widgets import dialogs
from yarn_puppet.desk.widgets.key_table import name_of

sides = st.integers(500, 6000)
places = st.integers(-8000, 8000)


@st.composite
def screens(draw: st.DrawFn) -> list[QRect]:
    """One to three screens beside each other."""
    left, found = draw(places), []
    for _ in range(draw(st.integers(1, 3))):
        found.append(QRect(left, draw(places), draw(sides), draw(sides)))
        left += found[-1].width()
    return found


class Placed(Case):
    @given(screens(), places, places, st.integers(0, 32_767), st.integers(0, 32_767), st.booleans())
    def test_it_lies_wholly_on_one_screen_with_its_title_bar(
        self, found: list[QRect], left: int, top: int, wide: int, high: int, known: bool
    ) -> None:
        rect = placed(QRect(left, top, wide, high), found, known)
        self.assertTrue(any(screen.contains(rect.adjusted(-4, -36, 4, 4)) for screen in found),
                        (rect, found))

    def test_where_there_is_room_it_stays_where_it_was(self) -> None:
        two = [QRect(0, 0, 1920, 1080), QRect(1920, 0, 2560, 1440)]
        self.assertEqual(placed(QRect(2100, 200, 1400, 900), two, True),
                         QRect(2100, 200, 1400, 900))
        # A screen that is gone gives it back to the first, in its middle.
        self.assertTrue(two[0].contains(placed(QRect(2100, 200, 1400, 900), two[:1], True)))
        self.assertEqual(placed(QRect(0, 0, 300, 200), two, False).size(), LEAST_SIZE)

    def test_a_screen_of_800_holds_all_of_it(self) -> None:
        rect = placed(QRect(0, 0, 1280, 800), [QRect(0, 0, 1280, 800)], False)
        self.assertLessEqual(rect.bottom(), 799)
        self.assertGreaterEqual(rect.top(), 36)


class Remembered(DeskCase):
    def test_it_opens_where_it_was(self) -> None:
        self.window.setGeometry(3, 41, 790, 750)
        self.window.close()
        self.assertEqual((load_settings().left, load_settings().top), (3, 41))
        again = self.open_window()
        found = load_settings()
        self.assertEqual(found.height, 750)
        again.close()

    def test_puppets_that_were_worked_on_are_in_the_menu_the_last_one_first(self) -> None:
        paths = [self.folder / f"{name}.puppet.json" for name in ("one", "two & a half", "three")]
        for path in paths:
            save_puppet(load_puppet(FIRST_STEPS), path)
            self.window.files.load(path)
        paths[0].unlink()

        def listed() -> list[str]:
            return [each.text() for each in self.window.commands.menu(("recent",))
                    if each is not None]

        self.assertEqual([each.split("   in ")[0] for each in listed()], ["two && a half"])
        self.window.files.load(DEMO_PUPPET)
        self.assertEqual([each.split("   in ")[0] for each in listed()], ["three", "two && a half"])
        self.window.commands.menu(("recent",))[2].trigger()
        self.assertEqual(self.window.document.path, paths[1])
        self.window.close()
        self.assertEqual(load_settings().recent[0], str(paths[1]))


class News(DeskCase):
    def test_who_is_new_is_said_nothing_and_others_of_each_once(self) -> None:
        self.go("Clips")
        self.assertEqual(self.window.notices.names, [])
        self.window.close()
        known = msgspec.json.decode(settings_path().read_bytes())
        self.assertEqual(known.pop("news"), {page: number for page, (number, _) in NEWS.items()})
        settings_path().write_bytes(msgspec.json.encode(known))
        self.window = self.open_window()
        self.assertEqual(self.window.notices.names, ["news Weave"])
        self.go("Clips")
        self.assertEqual(self.window.notices.names, ["news Clips"])
        sentence = self.window.notices.sentence("news Clips")
        assert sentence is not None
        self.hand.click(sentence.token("dismiss"))
        self.go("Weave")
        self.go("Clips")
        self.assertEqual(self.window.notices.names, [])


class Keys(DeskCase):
    file = DEMO_PUPPET

    def shown(self) -> dict[str, list[tuple[tuple[str, ...], str]]]:
        """What the open help says, by section."""
        return {section.title: list(section.lines)
                for section, _, _ in self.dialog("keys").sheet.placed}

    def test_help_shows_the_keys_of_the_page_and_nothing_that_does_not_work(self) -> None:
        titles = {"Clips": "Frame", "Weave": "Weave", "Booth": "The booth to paint on",
                  "Takes": "Kept takes",
                  "Snags": "Snags", "Hand-off": "Files of the hand-off"}
        for page in PAGES:
            self.go(page)
            QTest.keyClick(self.window, Qt.Key.Key_F1)
            self.hand.wait()
            found = self.shown()
            self.assertIn("Everywhere", found)
            self.assertIn((("F1",), "Keys of this page"), found["The run, everywhere"])
            if page in titles:
                self.assertIn(titles[page], found)
            self.assertIn("Trace" if page != "Clips" else "Events", found)
            self.assertEqual(found["lamplighter, while the booth has the keyboard"][4][1], "jump")
            QTest.keyClick(self.dialog("keys"), Qt.Key.Key_F1)
            self.hand.wait()

    def test_every_name_in_a_table_is_a_key_that_qt_knows_and_is_pressed_under_that_name(
        self,
    ) -> None:
        for page in PAGES:
            self.go(page)
        views = [each for each in self.window.findChildren(dialogs.QWidget)
                 if hasattr(each, "key_lines")]
        names = {key for view in views for line in view.key_lines() for key in line.keys}
        self.assertGreater(len(names), 40)
        for name in sorted(names):
            pressed = QKeySequence(name)[0]
            event = QKeyEvent(QKeyEvent.Type.KeyPress, pressed.key(), pressed.keyboardModifiers())
            self.assertEqual(name_of(event), name)

    def test_the_other_delete_and_enter_do_the_same(self) -> None:
        self.go("Weave")
        view = self.window.page("Weave").view
        self.window.document.select("state", self.puppet.states[0].id)
        count = len(self.puppet.states)
        QTest.keyClick(view, Qt.Key.Key_Backspace)
        self.assertEqual(len(self.puppet.states), count - 1)
        self.window.document.undo()


class Choosing(DeskCase):
    def open_dialog(self) -> QFileDialog:
        """The dialog that brings in art."""
        self.go("Clips")
        self.window.page("Clips").bringing.ask_pictures()
        self.hand.wait()
        return self.dialog("file dialog")

    def test_the_picture_that_is_marked_is_shown_with_its_size(self) -> None:
        shutil.copy(DEMO_FOLDER / "bryony_walk.png", self.folder / "walk.png")
        (self.folder / "broken.png").write_bytes(b"no picture")
        dialog = self.open_dialog()
        preview = dialog.findChild(PicturePreview)
        for name, words in (("walk.png", "192×224"), ("broken.png", "cannot be read as a picture"),
                            ("none", "")):
            dialog.currentChanged.emit(str(self.folder / name))
            self.hand.until(lambda: not preview.busy, "the picture")
            self.assertEqual(preview.words, words)
            self.assertEqual(preview.image.isNull(), name != "walk.png")
        dialog.close()

    def test_only_the_last_one_marked_is_waited_for(self) -> None:
        dialog = self.open_dialog()
        preview = dialog.findChild(PicturePreview)
        dialog.currentChanged.emit(str(DEMO_FOLDER / "lamplighter.png"))
        dialog.currentChanged.emit(str(DEMO_FOLDER / "thatch.png"))
        self.hand.until(lambda: not preview.busy, "the picture")
        self.assertEqual((preview.words, preview.image.width()), ("48×64", 48))
        dialog.close()

    def test_on_a_desktop_its_own_dialog_is_asked(self) -> None:
        self.assertIn(QApplication.platformName(), dialogs.HEADLESS)
        for native in (True, False):
            with mock.patch.object(dialogs, "is_native", lambda native=native: native):
                dialog = dialogs.FileDialog(self.window, "Open", str(self.folder), PICTURES)
                self.assertEqual(dialog.testOption(QFileDialog.Option.DontUseNativeDialog),
                                 not native)
                dialog.put_beside(PicturePreview())
                self.assertEqual(dialog.findChild(PicturePreview) is None, native)
                dialog.deleteLater()

    def test_long_folders_are_listed_by_their_end(self) -> None:
        from yarn_puppet.desk.shell.actions import LONGEST_FOLDER, shortened

        self.assertEqual(shortened(Path.home() / "games"), "~/games")
        self.assertEqual(len(shortened(Path("/" + "deep/" * 40))), LONGEST_FOLDER + 1)
