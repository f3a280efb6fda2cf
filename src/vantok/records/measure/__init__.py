"""Heights as read, cell by cell."""
