"""Spring rates: from the tape, from the class, and how sure they are (method section 3)."""
