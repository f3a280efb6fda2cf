"""The ride before it is built: configurations of a job's vehicle over one road, on one clock, told beside one another."""
