"""The job on the desk: records made into facts, what the core makes of them, kept while nothing changes; and how it is changed."""
