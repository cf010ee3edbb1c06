"""Characters that are unlike ours, made by scripts: other sizes, packages, names and rates."""
