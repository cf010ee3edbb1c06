"""What is selected in the weave, as a sentence whose tokens are its fields."""
