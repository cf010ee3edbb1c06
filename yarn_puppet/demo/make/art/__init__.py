"""Draws and sounds: strokes of yarn, Pell and the poses, Old Thatch, Bryony, the sounds."""
