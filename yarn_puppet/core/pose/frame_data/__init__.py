"""Frame data: what each state with a hit window does, in ticks, measured by running the engine."""
