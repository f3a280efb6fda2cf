"""Quantities, sentences and icons on the page, in the reader's units."""

from __future__ import annotations

import re
from collections.abc import Mapping
from datetime import datetime
from functools import cache
from typing import Any

from django import template
from django.conf import settings
from django.forms import BoundField, CheckboxInput
from django.forms.utils import flatatt
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe
from django.utils.timezone import localtime

from vantok.fields.finding import JobInput
from vantok.fields.seen import STAMP, SeenMixin, stamp_of
from vantok.people import once
from vantok.people.gate import looks_only
from vantok_core.base.say import Quantity, Say, Verdict
from vantok_core.base.units import figure, show

register = template.Library()


@register.simple_tag(takes_context=True)
def q(context: dict[str, Any], value: float | str | None, kind: str, signed: str = "") -> str:
    """Show an SI value in the reader's units; unknown is a dash."""
    return "–" if value in (None, "") else show(kind, float(value or 0.0), context["units"], signed=bool(signed))


@register.simple_tag(takes_context=True)
def minus(context: dict[str, Any], value: float, kind: str) -> str:
    """Show the size of a negative SI value, its sense being said in words beside it."""
    return show(kind, -float(value), context["units"])


@register.simple_tag(takes_context=True)
def gain(context: dict[str, Any], reading: Any, base: float) -> str:
    """Show by how much a reading stands above what stood there before (m), the floor taken out."""
    return show("length", reading.value_m - reading.floor_m - base, context["units"], signed=True)


@register.simple_tag(takes_context=True)
def bare(context: dict[str, Any], value: float, kind: str) -> str:
    """Show an SI value's figure in the reader's units, its unit standing elsewhere."""
    return figure(kind, float(value), context["units"])


@register.simple_tag(takes_context=True)
def side_of(context: dict[str, Any], value: Quantity | str) -> str:
    """Show a quantity in the reader's units, or a word as it is."""
    return value if isinstance(value, str) else value.in_units(context["units"])


@register.simple_tag(takes_context=True)
def lower(context: dict[str, Any], drop: float) -> str:
    """Show a drop (m) in words: lower, higher, or no different."""
    text = show("length", abs(drop), context["units"])
    return "no different" if text.startswith("0\u00a0") else f"{text} {'lower' if drop > 0.0 else 'higher'}"


@register.simple_tag
def chance(share: float) -> str:
    """Show a chance that rests on rules of thumb: in tens of a hundred, never none and never all."""
    return "under 10\u00a0%" if share < 0.1 else "over 90\u00a0%" if share > 0.9 else f"{10 * round(10 * share)}\u00a0%"


@register.simple_tag(takes_context=True)
def say(context: dict[str, Any], what: Say | Verdict | Quantity) -> str:
    """Show a sentence, verdict or quantity in the reader's units."""
    return what.in_units(context["units"])


@register.simple_tag(takes_context=True)
def parted(context: dict[str, Any], verdict: Verdict) -> tuple[str, str]:
    """Return a verdict's sentence as it leads, and what folds under it, in the reader's units."""
    return verdict.parted(context["units"])


@register.simple_tag(takes_context=True)
def money(context: dict[str, Any], value: float) -> str:
    """Show a sum in the shop's currency."""
    return f"{context.get('currency', '')}\u00a0{figure('money', float(value), context['units'])}".strip()


@register.simple_tag(takes_context=True)
def money2(context: dict[str, Any], value: float) -> str:
    """Show a sum to the cent in the shop's currency."""
    return f"{context.get('currency', '')}\u00a0{value:,.2f}".strip()


@cache
def _icon(name: str) -> str:
    path = settings.ROOT / "src" / "vantok" / "static" / "vendor" / "icons" / f"{name}.svg"
    return path.read_text(encoding="utf-8").replace("<svg ", '<svg aria-hidden="true" focusable="false" ', 1)


@register.simple_tag
def icon(name: str) -> SafeString:
    """Put a vendored icon into the page."""
    return mark_safe(_icon(name))  # noqa: S308 - a file of this program's own


SIGNS = {
    "limit": "exclamation-octagon-fill",
    "error": "exclamation-octagon-fill",
    "level": "check-circle-fill",
    "act": "arrow-right",
}


@register.simple_tag
def sign(tone: str) -> SafeString:
    """Put the icon of a tone (of a message: of its level) into the page."""
    return icon(SIGNS.get(tone, "check-circle-fill"))


@register.simple_tag(takes_context=True)
def sentence_of(context: dict[str, Any], job: Any) -> str:
    """Show a job's sentence as it was last settled, in the reader's units."""
    told: str = job.verdict_us if context["units"] == "us" else job.verdict
    return told


@register.simple_tag
def field(bound: BoundField) -> SafeString:
    """Return a form field with its label, unit, help and errors; before the first of a form, what the form showed (`fields/seen.py`)."""
    return format_html("{}{}", _seen_of(bound.form), _field(bound))


def _seen_of(form: Any) -> SafeString | str:
    """Return the hidden field of what a form shows, once: no template can leave it out."""
    if not isinstance(form, SeenMixin) or "seen_input" in form.__dict__:
        return ""
    return form.seen_input


def _field(bound: BoundField) -> SafeString:
    unit = bound.field.widget.attrs.get("data-unit")
    name = bound.label[:1].upper() + bound.label[1:]
    shown = format_html('{} <span class="unit">{}</span>', name, unit) if unit else name
    help_text = format_html("<small>{}</small>", bound.help_text) if bound.help_text else ""
    errors = format_html_join("", '<p class="error" role="alert">{}</p>', ((e,) for e in bound.errors))
    if isinstance(bound.field.widget, CheckboxInput):
        wrong = " wrong" if bound.errors else ""
        return format_html(
            '<div class="field check{}"><label>{} {}</label>{}{}</div>',
            wrong,
            bound.as_widget(),
            name,
            help_text,
            errors,
        )
    return format_html(
        '<div class="field{}{}"><label for="{}">{}</label>{}{}{}{}</div>',
        " wrong" if bound.errors else "",
        " estimate" if bound.name in getattr(bound.form, "estimated", ()) else "",
        bound.id_for_label,
        shown,
        bound.as_widget(),
        _confirmed(bound),
        help_text,
        errors,
    )


def _confirmed(bound: BoundField) -> SafeString | str:
    """Return what says of a starting estimate that it is this vehicle's own, by one touch; nothing for what is no estimate."""
    if bound.name not in getattr(bound.form, "estimated", ()):
        return ""
    return format_html(
        '<span class="estimate-said">estimate <button class="btn btn-plain btn-small" form="as-read" name="fact" value="{}"'
        ' aria-label="{}: as read off this vehicle">as read</button></span>',
        bound.name,
        bound.label,
    )


@register.simple_tag
def pictured(bound: BoundField, pictures: Mapping[str, SafeString]) -> SafeString:
    """Return a choice as small drawings to touch, folded behind the one chosen. pictures: the drawing of each key."""
    chosen = str(bound.value() or "")
    rows = format_html_join(
        "",
        PICTURE,
        (
            (
                f"{bound.id_for_label}_{n}",
                flatatt({"name": bound.html_name, "value": value, "checked": str(value) == chosen}),
                pictures.get(str(value), ""),
                words if value else "not known",
            )
            for n, (value, words) in enumerate(bound.field.choices)  # type: ignore[attr-defined]
        ),
    )
    errors = format_html_join("", '<p class="error" role="alert">{}</p>', ((e,) for e in bound.errors))
    words = dict(bound.field.choices).get(chosen or None, "not known yet")  # type: ignore[attr-defined]
    return format_html(
        PICTURED,
        _seen_of(bound.form),
        bound.label[:1].upper() + bound.label[1:],
        flatatt({"open": bool(bound.errors)}),
        pictures.get(chosen, ""),
        words,
        rows,
        errors,
    )


@register.simple_tag
def touched(bound: BoundField, beside: str = "") -> SafeString:
    """Return a choice as a row of buttons to touch, without the empty one (a second touch takes a choice back). beside: what was said before."""
    chosen = str(bound.value() or "")
    rows = format_html_join(
        "",
        '<label class="chip"><input type="radio"{}><span>{}</span></label>',
        (
            (flatatt({"name": bound.html_name, "value": value, "checked": str(value) == chosen}), words)
            for value, words in bound.field.choices  # type: ignore[attr-defined]
            if value
        ),
    )
    said = format_html(" <small>{}</small>", beside) if beside else ""
    errors = format_html_join("", '<p class="error" role="alert">{}</p>', ((e,) for e in bound.errors))
    name = bound.label[:1].upper() + bound.label[1:]
    return format_html(TOUCHED, _seen_of(bound.form), name, said, rows, errors)


TOUCHED = '{}<fieldset class="touched"><legend>{}{}</legend><span class="chips">{}</span>{}</fieldset>'
PICTURED = (
    '{}<fieldset class="pictured"><legend>{}</legend><details{}><summary>{}<span>{}</span></summary>'
    '<div class="pictures">{}</div></details>{}</fieldset>'
)
PICTURE = '<label class="pick"><input type="radio" id="{}"{}>{}<span>{}</span></label>'


@register.simple_tag
def job_finder(name: str, label: str, number: str = "", auto: str = "") -> SafeString:
    """Return a field that takes a job by its number, and offers jobs to what is typed. auto: its form goes off as it is changed."""
    return format_html(
        '<div class="field"><label for="{0}">{1}</label>{2}</div>',
        name,
        label,
        JobInput().render(name, number, {"id": name, "data-auto": bool(auto)}),
    )


@register.simple_tag
def shown(value: Any) -> SafeString:
    """Return the hidden field of what a page showed, which its post is held to (`fields/seen.py`)."""
    return format_html('<input type="hidden" name="{}" value="{}">', STAMP, stamp_of(value))


@register.simple_tag
def dim_field(form: Any, name: str) -> SafeString:
    """Return a form's field by its name, as `field` does."""
    return field(form[name])


LONG = 120
"""Minutes from which a time is said in hours."""


@register.filter
def lasting(minutes: float) -> str:
    """Return a time (min) as it is said: from two hours on in hours and minutes."""
    whole = round(minutes)
    return f"{whole} min" if whole < LONG else f"{whole // 60} h {whole % 60} min"


@register.filter
def moment(stamp: str) -> str:
    """Return a stored stamp as the shop's clock showed it; one that does not read, as it stands."""
    try:
        return f"{localtime(datetime.fromisoformat(stamp)):%-d %b %Y %H:%M}"
    except ValueError:
        return stamp


@register.filter
def day(stamp: str) -> str:
    """Return the day of a stored stamp as it is told; one that does not read, as it stands."""
    try:
        return f"{datetime.fromisoformat(stamp):%-d %b %Y}"
    except ValueError:
        return stamp


@register.filter
def tenths(share: float) -> int:
    """Return a share in whole tenths: how wide it is drawn."""
    return round(10.0 * share)


@register.filter
def key(mapping: dict[str, Any], name: str) -> Any:
    """Return a mapping's entry, or nothing."""
    return mapping.get(name) if mapping else None


TOKEN, ONCE = "csrf-token-of-this-page", "name-of-this-post"
"""Stand in a kept part where each page's own token, and each form's own name, go."""


@register.simple_tag(takes_context=True)
def csrf_token(context: dict[str, Any], elsewhere: str = "") -> SafeString:
    """Return what every form carries: the token of this page, the name under which what it sends is stored once (`people/once.py`), and, where none
    of what the page stores is the reader's to do, the sentence that says so, which also takes its fields out of hand. elsewhere: what another
    page's form is of, such as signing out.
    """
    request = context.get("request")
    looks = looks_only(request) if request is not None and not elsewhere else ""
    if looks:
        return format_html('<p class="finding tone-plain looks" data-looks><span>{}</span></p>', looks)
    token = str(context.get("csrf_token", ""))
    name = ONCE if token == TOKEN else once.fresh()
    return format_html(
        '<input type="hidden" name="csrfmiddlewaretoken" value="{}"><input type="hidden" name="{}" value="{}">',
        token,
        once.FIELD,
        name,
    )


class KeptNode(template.Node):
    """A part of a job's page that is rendered once for a desk, a reader's units and role, and the variables it varies by."""

    def __init__(self, nodelist: template.NodeList, name: str, vary: list[template.base.FilterExpression]) -> None:
        self.nodelist, self.name, self.vary = nodelist, name, vary

    def render(self, context: template.Context) -> SafeString:
        """Return the part as kept on the desk, with this page's own token in its forms."""
        desk, user = context["desk"], context.get("user")
        key = (
            self.name,
            context["units"],
            getattr(user, "rank", ""),
            desk.record.practice and getattr(user, "practises", False),
            *(str(v.resolve(context)) for v in self.vary),
        )

        def made() -> str:
            with context.push(csrf_token=TOKEN):
                return self.nodelist.render(context)

        shown = desk.kept(key, made).replace(TOKEN, str(context.get("csrf_token", "")))
        return mark_safe(re.sub(ONCE, lambda _: once.fresh(), shown))  # noqa: S308 - rendered by the template itself


@register.tag
def kept(parser: template.base.Parser, token: template.base.Token) -> KeptNode:
    """Keep a part on the desk: `{% kept name variable ... %}` to `{% endkept %}`.

    Only for what follows from the job alone, the reader's units and role, and the variables named; forms in it that are
    shown again as typed come on a desk of their own, which keeps nothing from before.
    """
    _, name, *vary = token.split_contents()
    nodelist = parser.parse(("endkept",))
    parser.delete_first_token()
    return KeptNode(nodelist, name, [parser.compile_filter(v) for v in vary])
