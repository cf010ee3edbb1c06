"""The engine that runs: the same tick, with a function for what can be known of a program
beforehand."""
