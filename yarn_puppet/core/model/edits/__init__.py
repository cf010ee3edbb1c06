"""Edits: functions from puppet to puppet. None changes its argument, and none looks at anything but
it."""
