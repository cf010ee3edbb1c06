"""The commands of the command line, a file each."""
