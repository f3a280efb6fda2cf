"""A page's paper, sent as a PDF on the shop's own sheets."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string
from django.utils.text import slugify

from vantok.people.models import Shop

STYLED = 'href="static:vantok/paper.css">'


def paper(template: str, context: dict[str, Any], name: str, request: HttpRequest | None = None) -> HttpResponse:
    """Return a template's PDF, named after what it is; request: for what every page knows of its reader."""
    from vantok.desk.pdf import to_pdf  # noqa: PLC0415 - slow to load, and needed only here

    html: str = render_to_string(template, context, request)
    if Shop.objects.filter(sheet="letter").exists():  # before what a paper of its own size says
        html = html.replace(STYLED, f'{STYLED}<link rel="stylesheet" href="static:vantok/paper-letter.css">', 1)
    response = HttpResponse(to_pdf(html), content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="{slugify(name)}.pdf"'
    return response
