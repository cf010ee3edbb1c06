"""A frame at its own size: pivot, boxes and anchors drawn and dragged."""
