"""Statements that must hold on a run."""
