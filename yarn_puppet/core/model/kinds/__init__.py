"""One table a kind: all that is known of a gesture, a while-rule, a moment, a window, a mode or a
promise."""
