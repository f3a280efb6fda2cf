"""The Django project."""

import gc
import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
"""Read when numpy is first loaded: a job's matrices are small, and a second thread for one of them takes it from another person."""
gc.set_threshold(20_000, 20, 100)
"""A page of a large job makes hundreds of thousands of small things that live together: looking through all of them again and again for rings that
are not there took a sixth of its time, and more the larger the job."""
