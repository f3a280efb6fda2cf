"""Text files in and out."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse

from vantok_core.base.errors import FileFormatError

MOST_BYTES = 5_000_000
"""Largest file of text that is looked at."""


def text_of(upload: Any) -> str:
    """Return an uploaded file's text, without a byte order mark, its lines ended alike.

    Raises FileFormatError when it is too large, UnicodeDecodeError when it is none.
    """
    if (upload.size or 0) > MOST_BYTES:
        raise FileFormatError("file", f"a file may have {MOST_BYTES // 1_000_000} megabytes at most")
    text = upload.read().decode("utf-8-sig")
    return str(text.replace("\r\n", "\n").replace("\r", "\n"))


def csv_answer(text: str, name: str) -> HttpResponse:
    """Return a CSV file to keep."""
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    return response
