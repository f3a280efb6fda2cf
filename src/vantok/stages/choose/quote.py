"""The quote: made of what is chosen, edited line by line, printed, and answered by the customer."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.lessons import hours_learnt
from vantok.desk.load import Desk
from vantok.desk.paper import paper
from vantok.desk.stage import StageView
from vantok.drawing.ride_still import still_svg
from vantok.fields.money import NumberField
from vantok.fields.seen import SeenForm, WordedMixin, hold_to_shown
from vantok.people.acts import act
from vantok.people.models import Shop
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import KitRecord
from vantok_core.base.errors import InputError
from vantok_core.facts import Kit
from vantok_core.facts.quote import HOUR, MOST_LINES, QuoteSheet
from vantok_core.judge.choose.offer import lines_for, offer

KINDS = (("part", "part"), ("work", "work"), ("access", "comes off first"), ("consumables", "consumables"))
WHY = (("kit", "the kit"), ("fix_first", "fix first"), ("wish", "a wish"))
ANSWERS = (("", "not asked"), ("yes", "yes"), ("no", "no"))
CORROSION = (
    ("none", "clean: no reserve"),
    ("light", "light rust: a tenth"),
    ("moderate", "moderate rust: a quarter"),
    ("heavy", "heavy rust: half"),
)
FIELDS = ("what", "kind", "amount", "price", "sides", "why", "answer")
MORE = 2
"""Empty rows shown for further lines."""


class QuoteForm(SeenForm):
    """Every line in a row of fields, and rows for further ones; a line without words is taken off."""

    def __init__(self, *args: Any, sheet: QuoteSheet, **kwargs: Any) -> None:
        self.sheet = sheet
        self.count = min(len(sheet.lines) + MORE, MOST_LINES)
        told: dict[str, Any] = {"corrosion": sheet.corrosion, "rate": sheet.rate, "tax": 100.0 * sheet.tax}
        for n, line in enumerate(sheet.lines):
            told |= {f"{n}-{name}": getattr(line, name) for name in FIELDS}
        super().__init__(*args, initial=told, **kwargs)

    def settle(self) -> None:
        """Make the fields of each row."""
        for n in range(self.count):
            rows: dict[str, forms.Field] = {
                "what": forms.CharField(label="Line", max_length=120, required=False),
                "kind": forms.ChoiceField(label="What it is", choices=KINDS, required=False, initial="work"),
                "amount": NumberField(label="How many, or hours a side", most=1000.0),
                "price": NumberField(label="Price of one", most=1e6),
                "sides": forms.TypedChoiceField(
                    label="Sides",
                    choices=((1, "one"), (2, "both")),
                    coerce=int,
                    required=False,
                    initial=1,
                ),
                "why": forms.ChoiceField(label="Why", choices=WHY, required=False, initial="kit"),
                "answer": forms.ChoiceField(label="Customer", choices=ANSWERS, required=False),
            }
            for name, field in rows.items():
                field.widget.attrs.setdefault(
                    "class", "form-select" if isinstance(field, forms.ChoiceField) else "form-control"
                )
                self.fields[f"{n}-{name}"] = field
        self.fields["corrosion"] = forms.ChoiceField(label="Fasteners underneath", choices=CORROSION)
        self.fields["corrosion"].widget.attrs["class"] = "form-select"
        self.fields["rate"] = NumberField(label="Price of an hour", most=10_000.0, required=True)
        self.fields["tax"] = NumberField(label="Tax, %", most=100.0)
        super().settle()

    @property
    def rows(self) -> list[dict[str, Any]]:
        """Return each row's fields, for the page."""
        return [{name: self[f"{n}-{name}"] for name in FIELDS} | {"n": n} for n in range(self.count)]

    def clean(self) -> dict[str, Any]:
        """Say where a row has figures and no words."""
        data = super().clean() or {}
        for n in range(self.count):
            if (
                n >= len(self.sheet.lines)
                and not data.get(f"{n}-what")
                and (data.get(f"{n}-amount") is not None or data.get(f"{n}-price") is not None)
            ):
                self.add_error(f"{n}-what", "Say what it is.")
        return data

    @property
    def found(self) -> QuoteSheet:
        """The quote as it is stored; what the customer said to the whole of it is asked anew, since it is another quote now."""
        data = self.cleaned_data
        lines = [
            {name: data[f"{n}-{name}"] for name in FIELDS if data.get(f"{n}-{name}") not in (None, "")}
            for n in range(self.count)
            if data.get(f"{n}-what")
        ]
        return QuoteSheet.model_validate(
            {
                "lines": lines,
                "corrosion": data["corrosion"],
                "rate": data["rate"],
                "tax": (data.get("tax") or 0.0) / 100.0,
            }
        )


class TaxForm(WordedMixin, forms.Form):
    """The tax on the shop's quotes, asked once."""

    tax = NumberField(label="Tax on the shop's quotes, % (nought where there is none)", most=100.0, required=True)


def quoted_kits(desk: Desk) -> tuple[Kit, ...]:
    """Return what a quote is made of: the kits on the job and those to follow; else the one recommended."""
    follow = KitRecord.objects.filter(code__in=[one.code for one in desk.job.to_follow])
    kits = (*(part.kit for part in desk.job.parts), *(record.to_core() for record in follow))
    best = desk.shortlist.choice(desk.shortlist.recommended) if not kits and desk.shortlist else None
    return kits or (best.kits if best else ())


def save_quote(record: Job, sheet: QuoteSheet) -> None:
    """Store a quote."""
    record.quote = sheet.model_dump(mode="json", exclude_none=True)
    record.save()


class QuotePage(StageView):
    """The quote of a job."""

    stage = "choose"

    def get_template_names(self) -> list[str]:
        """Return the quote's page."""
        return ["choose/quote.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the quote, its sums and its form."""
        sheet, kits = self.desk.job.quote, quoted_kits(self.desk)
        learnt = hours_learnt(self.desk.record.vehicle, kits)
        if sheet is not None:
            kwargs.setdefault("form", QuoteForm(sheet=sheet))
        return super().get_context_data(
            quote=sheet,
            offer=offer(sheet) if sheet else None,
            kits=kits if sheet is None else (),
            tax_form=TaxForm() if not Shop.objects.filter(tax__isnull=False).exists() else None,
            own_hours=[(kit, taught, kit.hours * taught.factor) for kit in kits if (taught := learnt.get(kit.code))],
            **kwargs,
        )

    def back(self) -> HttpResponse:
        """Go to the quote anew."""
        return HttpResponseRedirect(reverse("quote", args=[self.kwargs["pk"]]))

    def do(self, doing: Callable[[], HttpResponse]) -> HttpResponse:
        """Show the quote again with why nothing came of it."""
        try:
            return doing()
        except InputError as error:
            messages.error(self.request, str(error))
            return self.again(409)

    @act("quote", "save")
    def _save(self) -> HttpResponse:
        if self.desk.job.quote is None:
            return self.back()
        return self.entered(
            "form",
            lambda r: QuoteForm(self.request.POST, sheet=QuoteSheet.model_validate(r.quote)),
            lambda r, form: save_quote(r, form.found),
        )

    @act("quote", "make")
    def _make(self) -> HttpResponse:
        """Make a quote of some kits of the shelf, else of what is chosen."""
        codes = self.request.POST.getlist("kit")
        kits = (
            tuple(r.to_core() for r in KitRecord.objects.filter(code__in=codes, offered=True))
            if codes
            else quoted_kits(self.desk)
        )
        shop = Shop.objects.first()
        sheet = QuoteSheet(
            lines=lines_for(self.desk.job, kits, hours_learnt(self.desk.record.vehicle, kits)),
            rate=shop.hour if shop else HOUR,
            tax=self._tax(shop),
        )
        with self.change() as record:
            if record.quote:
                hold_to_shown(self.request.POST, record.quote, "the quote")
            save_quote(record, sheet)
        return self.back()

    def _tax(self, shop: Shop | None) -> float:
        """Return the shop's tax on a quote, as a share; asked with the first quote, and kept from then on. Raises InputError where nobody says."""
        if shop is None or shop.tax is not None:
            return shop.tax or 0.0 if shop else 0.0
        form = TaxForm(self.request.POST)
        if not form.is_valid():
            raise InputError(
                "tax", self.request.POST.get("tax", ""), "say the tax on a quote first, nought where there is none"
            )
        shop.tax = form.cleaned_data["tax"] / 100.0
        shop.save()
        return shop.tax

    @act("quote", "accepted", "declined")
    def _answered(self) -> HttpResponse:
        """Note what the customer said to the whole, with the day and who heard it."""
        if self.desk.job.quote is None:
            return self.back()
        told = {"answer": self.asked, "answered": timezone.localdate().isoformat(), "by": str(self.person)[:120]}
        with self.change() as record:
            hold_to_shown(self.request.POST, record.quote, "the quote")
            sheet = QuoteSheet.model_validate(record.quote)
            save_quote(record, sheet.model_copy(update=told))
        messages.success(self.request, f"The quote is noted as {self.asked}.")
        return self.back()


class QuotePdf(QuotePage):
    """The same on paper."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send the PDF; back to the quote's page where there is none yet."""
        if self.desk.job.quote is None:
            return HttpResponseRedirect(reverse("quote", args=[self.desk.record.pk]))
        shop = Shop.objects.first()
        context = self.get_context_data(**kwargs) | {
            "units": self.units,
            "rides": [(one, still_svg(one, self.units)) for one in self.desk.job.proving.rides],
            "now": timezone.now(),
            "shop": shop,
            "holds": timezone.localdate() + timedelta(days=shop.quote_days if shop else 30),
        }
        return paper("choose/quote_paper.html", context, f"quote-{self.desk.record.number}", request)
