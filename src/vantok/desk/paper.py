"""A page's paper, sent as a PDF."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string
from django.utils.text import slugify


def paper(template: str, context: dict[str, Any], name: str, request: HttpRequest | None = None) -> HttpResponse:
    """Return a template's PDF, named after what it is; request: for what every page knows of its reader."""
    from vantok.desk.pdf import to_pdf  # noqa: PLC0415 - slow to load, and needed only here

    response = HttpResponse(to_pdf(render_to_string(template, context, request)), content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="{slugify(name)}.pdf"'
    return response
