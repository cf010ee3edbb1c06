"""Pictures of every open kind, good and hostile."""

from __future__ import annotations

import io
import random
import struct
import tempfile
import zipfile
import zlib
from collections.abc import Sequence
from contextlib import ExitStack
from pathlib import Path
from unittest import mock

from PIL import Image

from tests.helpers import Case
from yarn_puppet.core.formats.pictures import budget, decoding, open_raster, reading
from yarn_puppet.core.formats.pictures.names import name_order
from yarn_puppet.core.formats.pictures.pages import Page, PictureProblem, TooLarge
from yarn_puppet.core.formats.pictures.reading import read_pages
from yarn_puppet.demo import DEMO_FOLDER

COLORS = ((200, 40, 40, 255), (40, 160, 60, 255), (40, 60, 200, 255))


def frames(size: tuple[int, int] = (12, 8)) -> list[Image.Image]:
    """Three frames, each a square of its own colour in its own place."""
    made = []
    for number, color in enumerate(COLORS):
        frame = Image.new("RGBA", size, (0, 0, 0, 0))
        frame.paste(color, (number * 4, 0, number * 4 + 4, 8))
        made.append(frame)
    return made


def png(image: Image.Image) -> bytes:
    """A picture as a PNG file."""
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def pixel(page: Page, x: int, y: int) -> tuple[int, ...]:
    """One pixel of a page."""
    start = (y * page.width + x) * 4
    return tuple(page.pixels[start: start + 4])


class Reading(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def open_raster(self, name: str = "it.ora", stack: str | None = None, **members: bytes) -> Path:
        """An OpenRaster file; the usual one has three layers, the uppermost listed first."""
        layers = {f"data/layer{number}.png": png(frame.crop((number * 4, 0, number * 4 + 4, 8)))
                  for number, frame in enumerate(frames())}
        listed = "".join(
            f'<layer src="data/layer{number}.png" x="{number * 4}" y="0" name="l{number}"/>'
            for number in (2, 1, 0)
        )
        path = self.folder / name
        with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("mimetype", "image/openraster")
            archive.writestr("stack.xml",
                             stack or f'<image w="12" h="8"><stack>{listed}</stack></image>')
            for member, content in {**layers, **members}.items():
                archive.writestr(member, content)
        return path

    def problem(self, path: Path) -> str:
        with self.assertRaises(PictureProblem) as caught:
            read_pages(path)
        self.assertTrue(str(caught.exception).startswith(str(path.parent)))
        return str(caught.exception)


class Good(Reading):
    def test_a_still_is_one_page_without_a_duration(self) -> None:
        (page,) = read_pages(DEMO_FOLDER / "thatch.png")
        self.assertEqual((page.width, page.height, page.duration), (48, 64, None))
        self.assertEqual(page.pixels,
                         Image.open(DEMO_FOLDER / "thatch.png").convert("RGBA").tobytes())

    def test_what_moves_has_a_page_a_frame_with_its_duration(self) -> None:
        first, *rest = frames()
        durations = [40, 120, 80]
        # Pillow marks so small a WebP as opaque unless every frame is a key frame.
        for name, options in (("it.gif", {"disposal": 2}), ("it.apng", {"format": "PNG"}),
                              ("it.webp", {"lossless": True, "kmin": 1, "kmax": 1})):
            with self.subTest(name):
                path = self.folder / name
                first.save(path, save_all=True, append_images=rest, duration=durations, loop=0,
                           **options)
                pages = read_pages(path)
                self.assertEqual([page.duration for page in pages], durations)
                for number, page in enumerate(pages):
                    self.assertEqual((page.width, page.height), (12, 8))
                    self.assertEqual(pixel(page, number * 4 + 1, 3), COLORS[number])
                    self.assertEqual(pixel(page, (number * 4 + 6) % 12, 3)[3], 0,
                                     "what came before is gone")

    def test_layers_of_open_raster_are_pages_the_lowest_first(self) -> None:
        pages = read_pages(self.open_raster())
        self.assertEqual([(page.width, page.height) for page in pages], [(12, 8)] * 3)
        self.assertEqual([pixel(page, number * 4 + 1, 3) for number, page in enumerate(pages)],
                         list(COLORS))

    def test_a_folder_of_numbered_pictures_is_in_the_order_of_its_numbers(self) -> None:
        for number, frame in zip((10, 2, 1), frames(), strict=True):
            (self.folder / f"walk 'of' {number}.png").write_bytes(png(frame))
        (self.folder / "notes.txt").write_text("7")
        (self.folder / "cover.png").write_bytes(png(frames()[0]))
        pages = read_pages(self.folder)
        self.assertEqual([pixel(page, 4 * place + 1, 3)
                          for page, place in zip(pages, (2, 1, 0), strict=True)],
                         [COLORS[2], COLORS[1], COLORS[0]])

    def test_a_stray_file_keeps_none_of_the_others_out(self) -> None:
        for number, frame in enumerate(frames()):
            (self.folder / f"walk_{number}.png").write_bytes(png(frame))
        (self.folder / "walk_7.png").write_bytes(b"not a picture")
        left_out: list[str] = []
        self.assertEqual(len(read_pages(self.folder, left_out=left_out)), 3)
        self.assertEqual(len(left_out), 1)
        self.assertIn("walk_7.png: cannot be read as a picture", left_out[0])
        for number in range(3):
            (self.folder / f"walk_{number}.png").write_bytes(b"")
        self.assertIn("none of its pictures can be read", self.problem(self.folder))

    def test_names_are_ordered_as_people_count(self) -> None:
        names = ["w_10_v2", "w_2_v2", "w_1_v10", "w_1_v9", "w_02", "W_3", "v_12"]
        self.assertEqual(sorted(names, key=name_order),
                         ["v_12", "w_1_v9", "w_1_v10", "w_02", "w_2_v2", "W_3", "w_10_v2"])

    def test_what_is_hidden_in_a_raster_is_no_frame_and_a_group_is_one(self) -> None:
        stack = """<image w="12" h="8"><stack>
            <layer src="data/layer0.png" visibility="hidden"/>
            <stack visibility="hidden"><layer src="data/layer0.png"/></stack>
            <stack opacity="0.5" x="2"><layer src="data/layer0.png" opacity="0.5"/>
              <stack><layer src="data/layer1.png" x="4"/>
                <layer src="data/layer2.png" visibility="hidden"/></stack></stack>
            <layer src="data/layer2.png" opacity="0.25"/></stack></image>"""
        lowest, group = read_pages(self.open_raster(stack=stack))
        self.assertEqual(pixel(lowest, 1, 3), (*COLORS[2][:3], 64))
        self.assertEqual(pixel(group, 3, 3), (*COLORS[0][:3], 64), "half of half")
        self.assertEqual(pixel(group, 7, 3), (*COLORS[1][:3], 128))
        self.assertEqual(pixel(group, 1, 3)[3], 0)
        nothing = ('<image w="12" h="8"><stack><layer src="data/layer0.png" '
                   'visibility="hidden"/></stack></image>')
        self.assertIn("none of its layers is visible",
                      self.problem(self.open_raster(stack=nothing)))

    def test_the_picture_beside_an_animation_is_no_frame_of_it(self) -> None:
        first, *rest = frames()
        other = Image.new("RGBA", first.size, (9, 9, 9, 255))
        other.save(self.folder / "it.apng", "PNG", save_all=True, append_images=[first, *rest],
                   duration=[40, 120, 80],
                   default_image=True, blend=0)
        found = read_pages(self.folder / "it.apng")
        self.assertEqual([page.duration for page in found], [40, 120, 80])
        self.assertEqual([pixel(page, number * 4 + 1, 3) for number, page in enumerate(found)],
                         list(COLORS))

    def test_deep_colours_are_brought_to_eight_bits(self) -> None:
        grey = (0, 1000, 20000, 40000, 65535)
        for clear in ((), (20000,)):
            (self.folder / "it.png").write_bytes(deep(0, grey, clear))
            (page,) = read_pages(self.folder / "it.png")
            self.assertEqual([pixel(page, x, 0)[0] for x in range(5)], [0, 4, 78, 156, 255])
            self.assertEqual([pixel(page, x, 0)[3] for x in range(5)],
                             [255, 255, 0 if clear else 255, 255, 255])
        (self.folder / "it.png").write_bytes(deep(
            2, (0, 257, 65535, 20000, 30000, 40000), (20000, 30000, 40000)))
        (page,) = read_pages(self.folder / "it.png")
        self.assertEqual((pixel(page, 0, 0), pixel(page, 1, 0)[3]), ((0, 1, 255, 255), 0))

    def test_names_of_any_script(self) -> None:
        for name in ("a b.png", "it's \"so\".png", "שלום.png", "绣.png"):
            (self.folder / name).write_bytes(png(frames()[0]))
            self.assertEqual(len(read_pages(self.folder / name)), 1)

    def test_frames_of_an_odd_number_of_pixels(self) -> None:
        first, *rest = frames((11, 7))
        first.save(self.folder / "it.apng", "PNG", save_all=True, append_images=rest, duration=40)
        self.assertEqual([(page.width, page.height)
                          for page in read_pages(self.folder / "it.apng")], [(11, 7)] * 3)
        self.assertEqual(len(read_pages(self.folder / "it.apng", 231)), 3)

    def test_mislabelled_it_is_read_by_what_it_is(self) -> None:
        (self.folder / "it.gif").write_bytes(png(frames()[0]))
        self.assertEqual(read_pages(self.folder / "it.gif")[0].width, 12)


def deep(kind: int, values: Sequence[int], clear: Sequence[int] = ()) -> bytes:
    """A PNG of one row of sixteen bits a colour; `kind` is 0 for grey, 2 for red, green and
    blue."""
    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(
            ">I", zlib.crc32(name + data))

    width = len(values) // (3 if kind == 2 else 1)
    return b"".join((
        b"\x89PNG\r\n\x1a\n", chunk(b"IHDR", struct.pack(">IIBBBBB", width, 1, 16, kind, 0, 0, 0)),
        chunk(b"tRNS", struct.pack(f">{len(clear)}H", *clear)) if clear else b"",
        chunk(b"IDAT", zlib.compress(b"\0" + struct.pack(f">{len(values)}H", *values))),
        chunk(b"IEND", b"")))


def mutilated(content: bytes, dice: random.Random) -> bytes:
    """A file with some bytes changed, cut off or put in."""
    made = bytearray(content)
    for _ in range(dice.randint(1, 6)):
        at, what = dice.randrange(len(made)), dice.random()
        if what < 0.6:
            made[at] = dice.randrange(256)
        elif what < 0.8 and at:
            del made[at:]
        else:
            made[at:at] = dice.randbytes(dice.randint(1, 8))
    return bytes(made)


class Hostile(Reading):
    def test_whatever_is_done_to_a_file_it_is_read_or_said_what_is_wrong(self) -> None:
        first, *rest = frames()
        for name, options in (("it.gif", {"disposal": 2}), ("it.apng", {"format": "PNG"}),
                              ("it.webp", {})):
            first.save(self.folder / name, save_all=True, append_images=rest, duration=50,
                       **options)
        (self.folder / "it.png").write_bytes(png(first))
        self.open_raster()
        dice = random.Random(11)
        problems = 0
        for path in sorted(self.folder.iterdir()):
            whole = path.read_bytes()
            for _ in range(150):
                path.write_bytes(mutilated(whole, dice))
                try:
                    read_pages(path)
                except PictureProblem:
                    problems += 1
        self.assertGreater(problems, 200, "most of them are broken")

    def test_truncated_empty_and_foreign_files(self) -> None:
        whole = (DEMO_FOLDER / "lamplighter.png").read_bytes()
        for name, content in (("cut.png", whole[:5000]), ("empty.gif", b""),
                              ("text.webp", b"hello there"),
                              ("zip.ora", b"PK\x03\x04 and then nothing")):
            (self.folder / name).write_bytes(content)
            self.assertIn("cannot be read", self.problem(self.folder / name))

    def test_too_many_pixels_are_said_before_any_is_unpacked(self) -> None:
        def chunk(kind: bytes, data: bytes) -> bytes:
            return struct.pack(">I", len(data)) + kind + data + struct.pack(
                ">I", zlib.crc32(kind + data))

        for side in (9_000, 60_000):
            header = chunk(b"IHDR", struct.pack(">IIBBBBB", side, side, 8, 6, 0, 0, 0))
            rest = chunk(b"IDAT", b"") + chunk(b"IEND", b"")
            (self.folder / "it.png").write_bytes(b"\x89PNG\r\n\x1a\n" + header + rest)
            self.assertIn("million pixels", self.problem(self.folder / "it.png"))

    def test_too_many_frames_or_layers_or_files(self) -> None:
        first, *rest = frames()
        first.save(self.folder / "it.gif", save_all=True, append_images=rest, duration=50)
        archive = self.open_raster()
        many = self.folder / "many"
        many.mkdir()
        for number in range(3):
            (many / f"{number}.png").write_bytes(png(first))
        first.save(self.folder / "it.apng", "PNG", save_all=True, append_images=rest, duration=50)
        with ExitStack() as patched:
            for each in (budget, decoding, open_raster, reading):
                patched.enter_context(mock.patch.object(each, "MOST_PAGES", 2))
            self.assertIn("its 3 frames are more than 2", self.problem(self.folder / "it.apng"))
            for path, what in ((self.folder / "it.gif", "3 frames"),
                               (archive, "3 layers and groups"),
                               (many, "3 pictures")):
                self.assertIn(f"its {what} are more than 2", self.problem(path))

    def test_an_animation_of_ten_thousand_frames_is_said_and_not_unpacked(self) -> None:
        block = bytes.fromhex("21f90404050000002c00000000010001000002024401" + "00")
        path = self.folder / "long.gif"
        path.write_bytes(b"GIF89a" + bytes.fromhex("01000100800000000000ffffff") + block * 10_000
                         + b";")
        self.assertIn("its 10000 frames are more than 2000", self.problem(path))

    def test_a_folder_that_may_not_be_read(self) -> None:
        with mock.patch.object(Path, "iterdir",
                               side_effect=PermissionError(13, "Permission denied")):
            self.assertIn("cannot be read (Permission denied)", self.problem(self.folder))

    def test_what_is_only_too_large_can_be_asked_for(self) -> None:
        (self.folder / "it.png").write_bytes(png(frames((40, 40))[0]))
        with self.assertRaises(TooLarge):
            read_pages(self.folder / "it.png", 1000)
        self.assertEqual(read_pages(self.folder / "it.png", 1600)[0].width, 40)

    def test_an_archive_cannot_reach_outside_itself_or_unpack_without_bound(self) -> None:
        for source, what in (("../../etc/passwd", "lies outside it"),
                             ("/etc/passwd", "lies outside it"),
                             ("..\\secret.png", "lies outside it"), ("gone.png", "gone.png")):
            stack = f'<image w="4" h="4"><stack><layer src="{source}"/></stack></image>'
            self.assertIn(what, self.problem(self.open_raster(stack=stack)))
        stack = '<image w="4" h="4"><stack><layer src="big.png"/></stack></image>'
        self.assertIn("unpacks to",
                      self.problem(self.open_raster(stack=stack, **{"big.png": b"\0" * 3_000_000})))
        stack = '<image w="40000" h="40000"><stack><layer src="data/layer0.png"/></stack></image>'
        self.assertIn("million pixels", self.problem(self.open_raster(stack=stack)))

    def test_lists_of_layers_that_are_wrong(self) -> None:
        entity = '<!DOCTYPE x [<!ENTITY a "aaaa">]><image w="4" h="4"/>'
        for stack, what in ((entity, "entities"), ("<image", "cannot be read as OpenRaster"),
                            ('<image w="4" h="4"/>', "no layers"),
                            ('<image w="x" h="4"><layer src="a"/></image>', "cannot be read"),
                            ('<image w="0" h="4"><layer src="a"/></image>', "its size is 0×4")):
            self.assertIn(what, self.problem(self.open_raster(stack=stack)))

    def test_a_folder_without_numbered_pictures_and_a_file_that_is_gone(self) -> None:
        self.assertIn("no numbered pictures", self.problem(self.folder))
        self.assertIn("no such file", self.problem(self.folder / "gone.png"))
