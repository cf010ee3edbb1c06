"""What a puppet is: frozen values, and edits that are functions from puppet to puppet."""
