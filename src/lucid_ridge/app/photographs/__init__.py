"""Reference photographs of a composition: open files beside the database."""
