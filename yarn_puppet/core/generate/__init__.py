"""From a program to source, one file a language. Standard library only."""
