"""The weave painted: cards, tails, threads, and what stands out."""
