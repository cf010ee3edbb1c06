"""What tells a desktop of the program: its entry, its icon, its kind of file, and what a catalogue
says of it."""
