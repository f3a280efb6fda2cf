"""Photographs: re-encoded, stripped of everything but the picture, limited in size, kept with a reading or an inspection area."""

from __future__ import annotations

import re
import struct
import threading
import zlib
from io import BytesIO
from typing import Any, cast

from django.contrib import messages
from django.core.files.base import ContentFile
from django.core.files.uploadedfile import UploadedFile
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, HttpResponseBase, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.utils.http import url_has_allowed_host_and_scheme
from django.views import View
from PIL import Image, ImageOps, UnidentifiedImageError

from vantok.desk.actions import change
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.people.rights import demand
from vantok.records.jobs.models import Job
from vantok.records.measure.models import PLATE, Photo, Reading
from vantok_core.base.errors import InputError
from vantok_core.judge.listen.inspect import AREAS

MOST_BYTES = 20_000_000
"""Largest file that is looked at at all."""
MOST_PIXELS = {"JPEG": 50_000_000, "PNG": 24_000_000, "WEBP": 24_000_000}
"""The formats that are read, told by content, and how many pixels of each: what one needs in memory stays under 400 MB."""
LONGEST = 1600
"""Longest side as kept, pixels: a whole wheel arch stays legible."""
QUALITY = 82
STEP = re.compile(r"\d:[a-z0-9-]{1,40}")
"""A step of a card: which kit, and its key."""
DAMAGED = (
    UnidentifiedImageError,
    OSError,
    SyntaxError,
    ValueError,
    EOFError,
    Image.DecompressionBombError,
    struct.error,
    TypeError,
    KeyError,
    IndexError,
    ArithmeticError,
    AttributeError,
    AssertionError,
    zlib.error,
)
"""What reading a damaged picture, or what a camera wrote into it, may end in."""
_ONE_AT_A_TIME = threading.Lock()
"""Pictures are decoded one after another: what is needed at once does not grow with the people."""


def re_encode(upload: UploadedFile[Any]) -> tuple[bytes, int, int]:
    """Return a picture as JPEG with its size, upright, without any of the original's data (place, time, camera).

    Only JPEG, PNG and WebP are read, by readers inside this process. Raises InputError for a file that is too large, is no
    such picture, or has more pixels than its format may.
    """
    if (upload.size or 0) > MOST_BYTES:
        raise InputError("photograph", upload.size, f"a file may have {MOST_BYTES // 1_000_000} megabytes at most")
    try:
        with _ONE_AT_A_TIME, Image.open(upload, formats=list(MOST_PIXELS)) as picture:
            if picture.width * picture.height > MOST_PIXELS[picture.format or "PNG"]:
                raise InputError("photograph", f"{picture.width} x {picture.height}", "it has too many pixels")
            picture.draft("RGB", (LONGEST, LONGEST))  # a JPEG is decoded no larger than it is kept
            upright = ImageOps.exif_transpose(picture).convert("RGB")
            upright.thumbnail((LONGEST, LONGEST))
    except InputError:
        raise
    except DAMAGED as error:
        raise InputError(
            "photograph", upload.name, "this file is not a JPEG, PNG or WebP picture that can be read"
        ) from error
    out = BytesIO()
    upright.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue(), upright.width, upright.height


def keep_photo(
    user: User, pk: int, upload: UploadedFile[Any], *, reading: int, area: str, caption: str, step: str = ""
) -> Photo:
    """Keep a photograph with a job, and with a reading or an inspection area of it.

    Decoded and written before the database is locked; a file whose row cannot be stored is taken away again. Raises
    InputError for no picture, RefusedError, OSError where the disk takes nothing more.
    """
    data, width, height = re_encode(upload)
    photo = Photo(
        job_id=pk,
        area=area if area in AREAS or area == PLATE else "",
        caption=" ".join(caption.split())[:120],
        step=step if STEP.fullmatch(step) else "",
        by=user,
        width=width,
        height=height,
    )
    storage = photo.file.storage
    name = storage.get_available_name(photo.file.field.generate_filename(photo, "photo.jpg"))
    try:
        photo.file.name = name = storage.save(name, ContentFile(data))
        with change(user, pk, "photograph", facts=False) as job:
            photo.reading = Reading.objects.filter(job=job, pk=reading).first()
            photo.save()
    except BaseException:
        storage.delete(name)  # nothing half-written stays
        raise
    return photo


def take_off(user: User, photo: Photo) -> None:
    """Take a photograph off the page; one's own, or anybody's by a technician. The history can put it back."""
    if photo.by_id != user.pk:
        demand(user, "remove photograph")
    with change(user, photo.job_id, "photograph", facts=False):
        photo.gone = True
        photo.save()


class Photos(View):
    """Taking a photograph in."""

    rights = "photograph"

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Keep it, or say why not; go back to where it was taken."""
        job = get_object_or_404(Job, pk=pk)
        upload = request.FILES.get("photo")
        try:
            if upload is None:
                raise InputError("photograph", "nothing", "take or choose a picture first")
            told: dict[str, Any] = {
                "area": request.POST.get("area", ""),
                "caption": request.POST.get("caption", ""),
                "step": request.POST.get("step", ""),
            }
            keep_photo(cast("User", request.user), pk, upload, reading=identity(request.POST.get("reading")), **told)
        except InputError as error:
            messages.error(request, f"The photograph was not kept: {error}")
        else:
            messages.success(request, "Photograph kept, without the place and time the camera wrote into it.")
        return HttpResponseRedirect(_back(request, job))


class PhotoView(View):
    """One photograph, and taking it off again."""

    rights = "photograph"

    def get(self, request: HttpRequest, pk: int) -> HttpResponseBase:
        """Send the picture."""
        photo = get_object_or_404(Photo, pk=pk)
        try:
            file = photo.file.open("rb")
        except FileNotFoundError as error:
            raise Http404(
                "The file of this photograph is gone from the data folder; a backup may still have it."
            ) from error
        response = FileResponse(file, content_type="image/jpeg")
        response["Cache-Control"] = "private, max-age=86400, immutable"
        return response

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Take it off the page; the history can put it back."""
        photo = get_object_or_404(Photo.objects.select_related("job"), pk=pk)
        take_off(cast("User", request.user), photo)
        messages.info(request, "Photograph taken off; the history can put it back.")
        return HttpResponseRedirect(_back(request, photo.job))


def _back(request: HttpRequest, job: Job) -> str:
    """Return the page the photograph was taken on, if it is one of ours."""
    back = request.POST.get("back", "")
    return back if url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()}) else job.get_absolute_url()
