"""How the application is served: one door, and a process at it for each core."""
