"""HTML to PDF with the shop's own fonts; nothing is fetched from anywhere."""

from __future__ import annotations

import re
from hashlib import sha256
from pathlib import Path
from typing import Any

from django.conf import settings
from weasyprint import HTML
from weasyprint.urls import URLFetcherResponse

from vantok.fields.ids import identity
from vantok.records.measure.models import Photo
from vantok_core.base.kept import LastByKey

PHOTO = re.compile(r"(?:static:)?/?/?/?photos/(\d+)/")
"""A photograph's address as it stands in a report."""
STATIC = Path(settings.STATICFILES_DIRS[0])


class OutsideAddressError(ValueError):
    """The page asked for something that is not a file of this program."""


def _local(url: str, *args: Any, **kwargs: Any) -> URLFetcherResponse:
    if found := PHOTO.fullmatch(url):
        photo = Photo.objects.filter(pk=identity(found[1])).first()
        if photo is None or not photo.file.storage.exists(photo.file.name or ""):
            raise OutsideAddressError(url)
        with photo.file.open("rb") as file:
            return URLFetcherResponse(url, file.read(), {"Content-Type": "image/jpeg"})
    name = url.removeprefix("static:")
    path = (STATIC / name).resolve()
    if not url.startswith("static:") or not path.is_relative_to(STATIC) or not path.is_file():
        raise OutsideAddressError(url)
    kind = "font/woff2" if path.suffix == ".woff2" else "text/css"
    return URLFetcherResponse(url, path.read_bytes(), {"Content-Type": kind})


MADE: LastByKey[str, bytes] = LastByKey(24)
"""The last papers by what stands on them: one that has not changed is not made anew."""


def to_pdf(html: str) -> bytes:
    """Return the PDF of a page."""
    key = sha256(html.encode()).hexdigest()
    return MADE.get(key) or MADE.put(key, bytes(HTML(string=html, base_url="static:", url_fetcher=_local).write_pdf()))
