"""Running the application: its own PostgreSQL cluster, and the server."""
