"""Numbers of a glTF file as arrays: normalised, interleaved and sparse ones too."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from .gltf_container import GltfBytes
from .gltf_document import Accessor
from .transforms import MOST, are_usable

if TYPE_CHECKING:
    from ...model.bones import Floats, Indices

TYPES: dict[int, Any] = {5120: np.int8, 5121: np.uint8, 5122: np.int16, 5123: np.uint16,
                         5125: np.uint32, 5126: np.float32}
COLUMNS = {"SCALAR": (1, 1), "VEC2": (1, 2), "VEC3": (1, 3), "VEC4": (1, 4), "MAT2": (2, 2),
           "MAT3": (3, 3), "MAT4": (4, 4)}
"""By type its columns and the numbers of each: columns of matrices begin at every fourth byte."""
MOST_NUMBERS = 1 << 26
"""Numbers of all accessors that are read of one file: half a gigabyte as 64-bit floats. A few bytes
can say four billion of them."""


class Accessors:
    """Reads them, each once. Raises FileProblem."""

    def __init__(self, content: GltfBytes) -> None:
        self.content = content
        self._known: dict[int, Any] = {}
        self._numbers = 0

    def floats(self, index: int, place: str, *types: str) -> Floats:
        """An accessor of one of these types as (count, numbers); a matrix (count, n, n), row by
        row. Normalised whole numbers are made shares of one. `place` is where it is named."""
        accessor = self._entry(index, place, types)
        raw = self._raw(index, accessor)
        if accessor.component_type == 5126:
            found = raw.astype(np.float64)
            if not are_usable(found):
                raise self.content.problem(f"accessors[{index}]",
                                           f"holds a number that is not within ±{MOST:g}")
        elif accessor.normalized:
            most = float(np.iinfo(raw.dtype).max)
            found = np.maximum(raw.astype(np.float64) / most, -1.0)
        else:
            found = raw.astype(np.float64)
        columns, rows = COLUMNS[accessor.type]
        shaped: Floats = found.reshape(accessor.count, columns, rows)
        return shaped.transpose(0, 2, 1) if columns > 1 else shaped[:, 0]

    def indices(self, index: int, place: str, *types: str) -> Indices:
        """An accessor of whole numbers as (count, numbers)."""
        accessor = self._entry(index, place, types)
        if accessor.component_type not in (5121, 5123, 5125) or accessor.normalized:
            raise self.content.problem(f"accessors[{index}].componentType",
                                       "expected whole numbers of zero or more")
        found: Indices = self._raw(index, accessor).astype(np.int64)
        return found.reshape(accessor.count, -1)

    def _entry(self, index: int, place: str, types: tuple[str, ...]) -> Accessor:
        entries = self.content.document.accessors
        if index >= len(entries):
            raise self.content.problem(place, f"there is no accessor {index}")
        if entries[index].type not in types:
            raise self.content.problem(f"accessors[{index}].type",
                                       f"expected {' or '.join(types)} for {place}, found "
                                       f"{entries[index].type}")
        return entries[index]

    def _raw(self, index: int, accessor: Accessor) -> Any:
        """The components as they are stored, one after the other."""
        known = self._known.get(index)
        if known is not None:
            return known
        columns, rows = COLUMNS[accessor.type]
        count, here = accessor.count, f"accessors[{index}]"
        self._numbers += count * columns * rows
        if self._numbers > MOST_NUMBERS:
            raise self.content.problem(f"{here}.count", f"expected at most {MOST_NUMBERS >> 20} "
                                                        "million numbers in a file")
        if accessor.buffer_view is None:
            found = np.zeros(count * columns * rows, TYPES[accessor.component_type])
        else:
            found = self._stored(accessor, accessor.buffer_view, here)
        if accessor.sparse is not None:
            found = self._replaced(accessor, found, here)
        self._known[index] = found
        return found

    def _stored(self, accessor: Accessor, view: int, here: str) -> Any:
        content = self.content.view(view, f"{here}.bufferView")
        stride = self.content.document.buffer_views[view].byte_stride
        return self._taken(content, accessor, accessor.count, accessor.byte_offset, stride, here)

    def _taken(
        self, content: memoryview, accessor: Accessor, count: int, offset: int,
        stride: int | None, here: str,
    ) -> Any:
        """`count` values of the accessor's type out of some bytes, as one row of components."""
        kind = np.dtype(TYPES[accessor.component_type]).newbyteorder("<")
        columns, rows = COLUMNS[accessor.type]
        # A column of a matrix begins at a multiple of four bytes.
        column = rows * kind.itemsize + (-rows * kind.itemsize % 4 if columns > 1 else 0)
        size = columns * column
        step = stride or size
        if step < size:
            raise self.content.problem(here, f"its values of {size} bytes stand {step} bytes apart")
        needed = offset + step * (count - 1) + size
        if needed > len(content) + (column - rows * kind.itemsize):
            raise self.content.problem(here, f"needs {needed} bytes of a buffer view of "
                                             f"{len(content)}")
        # What pads the last column need not be there.
        length = step * (count - 1) + size
        padded = bytes(content[offset:offset + length]).ljust(length, b"\0")
        shape, strides = (count, columns, rows), (step, column, kind.itemsize)
        return np.ndarray(shape, kind, padded, 0, strides).reshape(-1).astype(
            TYPES[accessor.component_type])

    def _replaced(self, accessor: Accessor, found: Any, here: str) -> Any:
        sparse = accessor.sparse
        assert sparse is not None
        here = f"{here}.sparse"
        if sparse.count > accessor.count:
            raise self.content.problem(f"{here}.count", f"replaces {sparse.count} values of "
                                                        f"{accessor.count}")
        which = Accessor(sparse.indices.component_type, sparse.count, "SCALAR")
        places = self._taken(
            self.content.view(sparse.indices.buffer_view, f"{here}.indices.bufferView"), which,
            sparse.count, sparse.indices.byte_offset, None, f"{here}.indices").astype(np.int64)
        if (np.diff(places) <= 0).any() or places[-1] >= accessor.count:
            raise self.content.problem(f"{here}.indices",
                                       f"expected places that grow, below {accessor.count}")
        values = self._taken(
            self.content.view(sparse.values.buffer_view, f"{here}.values.bufferView"), accessor,
            sparse.count, sparse.values.byte_offset, None, f"{here}.values")
        columns, rows = COLUMNS[accessor.type]
        made = found.reshape(accessor.count, columns * rows).copy()
        made[places] = values.reshape(sparse.count, columns * rows)
        return made.reshape(-1)
