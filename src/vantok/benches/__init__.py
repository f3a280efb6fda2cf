"""Benches at the counter or from a job: a page each, with a drawing to scale, handles, a sentence and its working."""
