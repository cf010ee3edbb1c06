"""Which triangles are of closed surfaces."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from tests.helpers import Case
from yarn_puppet.core.model.bones import Mesh
from yarn_puppet.core.pose.bones.closed_surfaces import closed_triangles


def mesh(places: np.ndarray, triangles: np.ndarray, joints: np.ndarray | None = None) -> Mesh:
    weights = None if joints is None else np.ones(joints.shape)
    return Mesh("", places, triangles, (1.0, 1.0, 1.0, 1.0), None, None, -1,
                () if joints is None else (0, 1), joints, weights,
                None if joints is None else np.tile(np.eye(4), (2, 1, 1)))


def stone(seed: int, away: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    """The hull of points: closed, its triangles outwards."""
    points = np.random.default_rng(seed).normal((away, 0.0, 0.0), size=(12, 3))
    hull = ConvexHull(points)
    triangles = hull.simplices.copy()
    # Outwards is where the plane's normal points to.
    corners = points[triangles]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    inwards = (normals * hull.equations[:, :3]).sum(axis=1) < 0
    triangles[inwards] = triangles[inwards][:, ::-1]
    return points, triangles


class Closed(Case):
    @given(st.integers(0, 99))
    def test_a_stone_is(self, seed: int) -> None:
        self.assertTrue(closed_triangles(mesh(*stone(seed))).all())

    @given(st.integers(0, 99), st.integers(0, 9))
    def test_with_a_hole_or_inside_out_or_one_triangle_turned_it_is_not(
        self, seed: int, which: int
    ) -> None:
        points, triangles = stone(seed)
        self.assertFalse(closed_triangles(mesh(points, np.delete(triangles, which, 0))).any())
        self.assertFalse(closed_triangles(mesh(points, triangles[:, ::-1])).any())
        turned = triangles.copy()
        turned[which] = turned[which][::-1]
        self.assertFalse(closed_triangles(mesh(points, turned)).any())

    @given(st.integers(0, 99))
    def test_of_two_surfaces_each_stands_by_itself(self, seed: int) -> None:
        first, second = stone(seed), stone(seed + 1, away=50.0)
        places = np.concatenate([first[0], second[0]])
        triangles = np.concatenate([first[1], second[1][1:] + len(first[0])])
        self.assertEqual(closed_triangles(mesh(places, triangles)).tolist(),
                         [True] * len(first[1]) + [False] * (len(second[1]) - 1))

    @given(st.integers(0, 99))
    def test_corners_apart_at_one_place_are_one_if_they_are_moved_alike(self, seed: int) -> None:
        points, triangles = stone(seed)
        apart = points[triangles].reshape(-1, 3)
        own = np.arange(len(apart)).reshape(-1, 3)
        self.assertTrue(closed_triangles(mesh(apart, own)).all())
        joints = np.zeros((len(apart), 1), np.int64)
        self.assertTrue(closed_triangles(mesh(apart, own, joints)).all())
        joints[0] = 1
        self.assertFalse(closed_triangles(mesh(apart, own, joints)).any())

    def test_nothing_and_flat_triangles(self) -> None:
        none = np.zeros((0, 3), np.int64)
        self.assertEqual(len(closed_triangles(mesh(np.zeros((0, 3)), none))), 0)
        self.assertFalse(closed_triangles(mesh(np.zeros((3, 3)), np.array([[0, 1, 2]]))).any())
