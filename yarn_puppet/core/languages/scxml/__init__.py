"""State Chart XML (W3C, version 1.0): what of a puppet it can say. The rules are in
docs/scxml.md."""
