"""What is wrong, why, and the mend."""
