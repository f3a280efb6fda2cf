"""The house agrees with what is written of it: examples at the front doors run, and files that documents name are there."""

from __future__ import annotations

import doctest
import importlib
import pkgutil
import re
import unittest
from pathlib import Path

import vantok_core

ROOT = Path(__file__).resolve().parents[2]
DOCUMENTS = ("README.md", "CONTRIBUTING.md", "docs/method.md", "docs/decisions.md", "docs/next.md")
NAMED = re.compile(r"`((?:[\w.-]+/)*[\w.-]+\.(?:py|js|md|toml|css|html)|(?:[\w-]+/)+)`")
WHERE = ("", "src/vantok_core", "src/vantok", "src/vantok/static/vantok", "src/vantok/static", "docs")


class House(unittest.TestCase):
    def test_examples_run(self) -> None:
        """Every example in the core's docstrings does what it shows, and there are some."""
        tried = 0
        for found in pkgutil.walk_packages(vantok_core.__path__, "vantok_core."):
            if found.name.endswith("__main__"):
                continue
            result = doctest.testmod(importlib.import_module(found.name))
            self.assertEqual(result.failed, 0, found.name)
            tried += result.attempted
        self.assertGreater(tried, 1)

    def test_files_that_documents_name_are_there(self) -> None:
        """Whatever a document names as a file or folder of the house stands where it says."""
        for document in DOCUMENTS:
            text = (ROOT / document).read_text(encoding="utf-8")
            for name in NAMED.findall(text):
                there = any((ROOT / base / name).exists() for base in WHERE)
                if "/" not in name:  # a bare name stands for every file of that name
                    there = there or any((ROOT / "src").rglob(name)) or any((ROOT / "tests").rglob(name))
                self.assertTrue(there, f"{document} names {name}")
