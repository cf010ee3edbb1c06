"""The desk: Qt. It draws reports and sends edits."""
