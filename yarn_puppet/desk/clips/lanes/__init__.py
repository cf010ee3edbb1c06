"""Moments and windows on lanes under the frames of one clip."""
