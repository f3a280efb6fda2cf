"""Photographs: re-encoded, stripped of everything but the picture, limited in size, kept with a reading or an inspection area."""

from __future__ import annotations

from io import BytesIO
from typing import Any, cast

from django.contrib import messages
from django.core.files.base import ContentFile
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.utils.http import url_has_allowed_host_and_scheme
from django.views import View
from PIL import Image, ImageOps, UnidentifiedImageError

from vantok.jobs.ids import identity
from vantok.jobs.models import Job
from vantok.measure.models import Photo, Reading
from vantok.people.models import User
from vantok_core.errors import InputError
from vantok_core.judge.inspect import AREAS

MOST_BYTES = 20_000_000
"""Largest file that is looked at at all."""
MOST_PIXELS = 80_000_000
LONGEST = 1600
"""Longest side as kept, pixels: a whole wheel arch stays legible."""
QUALITY = 82


def re_encode(upload: UploadedFile) -> tuple[bytes, int, int]:
    """Return a picture as JPEG with its size, upright, without any of the original's data (place, time, camera).

    Raises InputError for a file that is too large, is no picture, or has more pixels than a camera makes.
    """
    if (upload.size or 0) > MOST_BYTES:
        raise InputError("photograph", upload.size, f"a file may have {MOST_BYTES // 1_000_000} megabytes at most")
    try:
        with Image.open(upload) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise InputError("photograph", f"{picture.width} x {picture.height}", "it has too many pixels")
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        if isinstance(error, InputError):
            raise
        raise InputError("photograph", upload.name, "this file is not a picture that can be read") from error
    upright.thumbnail((LONGEST, LONGEST))
    out = BytesIO()
    upright.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue(), upright.width, upright.height


@transaction.atomic
def keep_photo(
    user: User, job: Job, upload: UploadedFile, *, reading: Reading | None, area: str, caption: str
) -> Photo:
    """Keep a photograph with a job, and with a reading or an inspection area of it. Raises InputError for no picture."""
    data, width, height = re_encode(upload)
    photo = Photo(
        job=job,
        reading=reading,
        area=area if area in AREAS else "",
        caption=caption.strip()[:120],
        by=user,
        width=width,
        height=height,
    )
    photo.file.save("photo.jpg", ContentFile(data), save=False)
    photo.save()
    return photo


class Photos(View):
    """Taking a photograph in."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Keep it, or say why not; go back to where it was taken."""
        job = get_object_or_404(Job, pk=pk)
        reading = Reading.objects.filter(job=job, pk=identity(request.POST.get("reading"))).first()
        upload = request.FILES.get("photo")
        try:
            if upload is None:
                raise InputError("photograph", "nothing", "take or choose a picture first")
            told: dict[str, Any] = {"area": request.POST.get("area", ""), "caption": request.POST.get("caption", "")}
            keep_photo(cast("User", request.user), job, upload, reading=reading, **told)
        except InputError as error:
            messages.error(request, f"The photograph was not kept: {error}")
        else:
            messages.success(request, "Photograph kept, without the place and time the camera wrote into it.")
        return HttpResponseRedirect(_back(request, job))


class PhotoView(View):
    """One photograph, and taking it off again."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponseBase:
        """Send the picture."""
        photo = get_object_or_404(Photo, pk=pk)
        response = FileResponse(photo.file.open("rb"), content_type="image/jpeg")
        response["Cache-Control"] = "private, max-age=86400, immutable"
        return response

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Take it off the page; the history can put it back."""
        photo = get_object_or_404(Photo.objects.select_related("job"), pk=pk)
        photo.gone = True
        photo.save()
        messages.info(request, "Photograph taken off; the history can put it back.")
        return HttpResponseRedirect(_back(request, photo.job))


def _back(request: HttpRequest, job: Job) -> str:
    """Return the page the photograph was taken on, if it is one of ours."""
    back = request.POST.get("back", "")
    return back if url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()}) else job.get_absolute_url()
