"""What can be read off the pixels of art: cuts, islands, marks, measures."""
