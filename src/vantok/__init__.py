"""The Django project."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
"""Read when numpy is first loaded: a job's matrices are small, and a second thread for one of them takes it from another person."""
