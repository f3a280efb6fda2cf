"""The measuring sheet, before and after: cells, walk, photographs, bays, and the proof beside what was predicted."""
