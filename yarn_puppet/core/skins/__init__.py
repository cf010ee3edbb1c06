"""One graph, many characters: skins."""
