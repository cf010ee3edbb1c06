"""The scripts that draw Lantern Row. `python -m yarn_puppet.demo.make` writes every file of the
demo again."""
