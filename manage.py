#!/usr/bin/env python3
"""Django's command line, for developers; people use run.py."""

import os
import sys
from pathlib import Path

if __name__ == "__main__":
    root = Path(__file__).resolve().parent
    sys.path[:0] = [str(root / "src"), str(root)]
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vantok.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
