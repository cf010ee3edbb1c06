"""What is wrong, why, and the fix."""
