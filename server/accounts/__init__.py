"""Users, workspaces and who belongs to which."""
