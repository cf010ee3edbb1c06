"""Which triangles of a mesh are of closed surfaces: what they hide of themselves need not be
drawn."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import scipy

from ...model.bones import Mesh

if TYPE_CHECKING:
    from ...model.bones import Floats, Indices


def closed_triangles(mesh: Mesh) -> Floats:
    """For each triangle (triangles,) whether it is of a surface without a hole, whose triangles
    all face outwards, anticlockwise as they are seen from there; bool.

    A surface has no hole where each of its edges is one of two triangles, which go along it in
    opposite ways. Vertices at one place that are moved alike are one.
    """
    triangles = _welded(mesh)[mesh.triangles]
    if not len(triangles):
        return np.zeros(0, bool)
    count = int(triangles.max()) + 1
    edges = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    surface = scipy.sparse.csgraph.connected_components(scipy.sparse.coo_array(
        (np.ones(len(edges), np.int8), (edges[:, 0], edges[:, 1])), shape=(count, count)),
        directed=False)[1]
    there, back = edges[:, 0] * count + edges[:, 1], edges[:, 1] * count + edges[:, 0]
    known, times = np.unique(there, return_counts=True)
    once = times[np.searchsorted(known, there)] == 1
    paired = known[np.searchsorted(known, back).clip(max=len(known) - 1)] == back
    open_ones = np.zeros(count, bool)
    np.logical_or.at(open_ones, surface[edges[:, 0]], ~(once & paired))
    # A closed surface holds as much as the tetrahedrons from any point to its triangles do, those
    # that face it taken away.
    corners = mesh.places[mesh.triangles]
    volumes = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2]))
    held = np.bincount(surface[triangles[:, 0]], volumes, minlength=count)
    of = surface[triangles[:, 0]]
    found: Floats = ~open_ones[of] & (held[of] > 0)
    return found


def _welded(mesh: Mesh) -> Indices:
    """For each vertex the number of those that are at its place and are moved as it is."""
    alike: list[Floats | Indices] = [mesh.places]
    if mesh.joints is not None and mesh.weights is not None:
        alike += [mesh.joints, mesh.weights]
    found: Indices = np.unique(np.concatenate(alike, axis=1), axis=0,
                               return_inverse=True)[1].reshape(-1)
    return found
