"""The handbook: a short page a stage, bench, construction and aim, and the words of the trade."""
