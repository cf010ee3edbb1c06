"""From a puppet to a program: what is named becomes a place, what is text a tree, a clip a
table."""
