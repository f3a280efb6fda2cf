"""Files in and out: one door with bounds on every field, and the command that needs no database.

>>> from vantok_core.files.job_file import read_job, write_job
>>> from vantok_core.facts import Job
>>> read_job(write_job(Job(number="1"))).number
'1'
"""
