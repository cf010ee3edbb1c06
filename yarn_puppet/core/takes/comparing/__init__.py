"""Two runs of one take compared: whole reports and whole worlds by id first, then what differs in
words."""
