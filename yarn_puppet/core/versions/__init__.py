"""Two versions of a puppet or a take beside each other, and three made into one."""
