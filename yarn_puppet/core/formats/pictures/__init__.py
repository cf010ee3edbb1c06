"""Pictures in and out: stills, what moves, layers, folders; clips as moving pictures and packed
sheets."""
