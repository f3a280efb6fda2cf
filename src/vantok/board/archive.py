"""A whole job between shops: job file, photographs and report in one archive, checked whole before anything of it is taken in."""

from __future__ import annotations

import json
import lzma
import zlib
from io import BytesIO
from typing import Any
from zipfile import ZIP_DEFLATED, BadZipFile, ZipFile, ZipInfo

from django.core.files.base import ContentFile
from django.core.files.uploadedfile import SimpleUploadedFile, UploadedFile
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.urls import reverse
from django.utils.text import slugify
from django.views import View
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from vantok.desk.incoming import import_job
from vantok.desk.load import Desk
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.measure.models import PLATE, Photo
from vantok.stages.hand_over.pages import ReportPdf
from vantok.stages.measure.photos import STEP, re_encode
from vantok_core.base.errors import FileFormatError, InputError
from vantok_core.files.door import read_json
from vantok_core.files.job_file import read_job, write_job
from vantok_core.judge.listen.inspect import AREAS

JOB_FILE, LIST = "job.json", "photographs.json"
BEGINS = b"PK\x03\x04"
"""How an archive begins."""
MOST_FILES, MOST_BYTES, PACKED_BY = 500, 100_000_000, 30
"""Files of an archive, bytes of all of them unpacked at most, and how many times its own size they can be."""
MOST_OF = {JOB_FILE: 12_000_000, LIST: 1_000_000}
MOST_OF_A_PICTURE = 25_000_000
"""Bytes that a file of an archive unpacks to at most."""


class PhotoEntry(BaseModel):
    """A photograph of an archive: its file, what it is of, and the reading it was taken at (state, phase, datum, place)."""

    model_config = ConfigDict(extra="forbid")

    file: str = Field(pattern=r"^photographs/[0-9]{1,4}\.jpg$")
    caption: str = Field(default="", max_length=120)
    area: str = Field(default="", max_length=20)
    step: str = Field(default="", max_length=50)
    reading: tuple[str, str, str, str] | None = None


class Archive(View):
    """A job as an archive."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Send it."""
        desk = Desk.look(pk)
        report = ReportPdf.as_view()(request, pk=pk).content
        answer = HttpResponse(packed(desk, report), content_type="application/zip")
        answer["Content-Disposition"] = f'attachment; filename="job-{slugify(desk.record.number)}.zip"'
        return answer


def packed(desk: Desk, report: bytes) -> bytes:
    """Return a job's archive; a photograph whose file is gone is left out and said to be."""
    out, entries, gone = BytesIO(), [], []
    with ZipFile(out, "w", ZIP_DEFLATED) as archive:
        archive.writestr(JOB_FILE, write_job(desk.facts.job))
        archive.writestr("report.pdf", report)
        for n, photo in enumerate(desk.record.photos.filter(gone=False).select_related("reading__state"), 1):
            name, read = f"photographs/{n}.jpg", photo.reading
            if not photo.file.storage.exists(photo.file.name or ""):
                gone.append(photo.caption or name)
                continue
            with photo.file.open("rb") as file:
                archive.writestr(name, file.read())
            at = (read.state.key, read.phase, read.datum, read.place) if read else None
            entries.append(
                PhotoEntry(file=name, caption=photo.caption, area=photo.area, step=photo.step, reading=at).model_dump()
            )
        archive.writestr(LIST, json.dumps({"photographs": entries, "gone": gone}, ensure_ascii=False, indent=1))
    return out.getvalue()


def take_archive(user: User, upload: UploadedFile[Any]) -> Job:
    """Make a job of an archive: all of it, or nothing.

    Raises FileFormatError for an archive that is cut short, has a path that climbs, a photograph that is none or not listed, too much in it, no job
    file, or the same job that is here already.
    """
    try:
        with ZipFile(upload) as archive:
            names = _looked_over(archive, upload.size or 0)
            text = _read(archive, JOB_FILE).decode("utf-8-sig")
            entries = _listed(archive, names)
            pictures = [(entry, *_picture(archive, entry)) for entry in entries]
    except (BadZipFile, EOFError, OSError, RuntimeError, NotImplementedError, zlib.error, lzma.LZMAError) as error:
        raise FileFormatError("archive", "it is cut short, or no archive") from error
    except UnicodeDecodeError as error:
        raise FileFormatError(JOB_FILE, "it is not text") from error
    found = read_job(text)
    _not_here_already(found.number, text)
    stored: list[Any] = []
    try:
        with transaction.atomic():
            job = import_job(user, found)
            for entry, data, width, height in pictures:
                stored.append(_kept(user, job, entry, data, width, height))
    except BaseException:
        for file in stored:
            file.storage.delete(file.name)
        raise
    return job


def _read(archive: ZipFile, name: str) -> bytes:
    """Return a file of an archive, held against its checksum. Raises FileFormatError for one that unpacks to more than a file of its kind has."""
    most = MOST_OF.get(name, MOST_OF_A_PICTURE)
    with archive.open(name) as file:
        data = file.read(most + 1)
        if len(data) > most:
            raise FileFormatError("archive", f"“{name[:60]}” unpacks to more than {most // 1_000_000} megabytes")
        return data


def _looked_over(archive: ZipFile, size: int) -> set[str]:
    """Return the names in an archive, from its list alone: nothing is unpacked yet. Raises FileFormatError for too many, too much, more than its own
    bytes can hold, a path that climbs, a file twice, no job file."""
    infos = archive.infolist()
    told = sum(i.file_size for i in infos)
    if len(infos) > MOST_FILES or told > MOST_BYTES:
        raise FileFormatError("archive", f"it has more than {MOST_FILES} files or {MOST_BYTES // 1_000_000} megabytes")
    if told > PACKED_BY * size + 1_000_000:
        raise FileFormatError(
            "archive",
            f"it says it unpacks to {told // 1_000_000} megabytes, more than its {size // 1000} kilobytes hold",
        )
    names = {i.filename for i in infos}
    for info in infos:
        if _climbs(info):
            raise FileFormatError("archive", f"“{info.filename[:60]}” is a path that leads out of it")
    if len(names) != len(infos):
        raise FileFormatError("archive", "a file stands in it twice")
    if JOB_FILE not in names:
        raise FileFormatError("archive", f"there is no {JOB_FILE} in it")
    return names


def _climbs(info: ZipInfo) -> bool:
    name = info.filename
    return name.startswith(("/", "\\")) or ".." in name.replace("\\", "/").split("/") or ":" in name or "\\" in name


def _listed(archive: ZipFile, names: set[str]) -> list[PhotoEntry]:
    """Return the photographs as listed. Raises FileFormatError where the list cannot be read, or list and files differ."""
    pictures = {name for name in names if name.startswith("photographs/") and not name.endswith("/")}
    if LIST not in names:
        if pictures:
            raise FileFormatError(LIST, "it is missing, and there are photographs")
        return []
    try:
        told = read_json(_read(archive, LIST).decode("utf-8-sig"))
        entries = [PhotoEntry.model_validate(one) for one in told["photographs"]]
    except FileFormatError:
        raise
    except (ValueError, KeyError, TypeError, ValidationError) as error:
        raise FileFormatError(LIST, "it does not read as a list of photographs") from error
    if {one.file for one in entries} != pictures or len(entries) != len(pictures):
        raise FileFormatError(LIST, "it lists other photographs than are there")
    return entries


def _picture(archive: ZipFile, entry: PhotoEntry) -> tuple[bytes, int, int]:
    """Return a photograph re-encoded, with its size. Raises FileFormatError for one that is none."""
    try:
        return re_encode(SimpleUploadedFile(entry.file, _read(archive, entry.file)))
    except InputError as error:
        raise FileFormatError(entry.file, "it is no photograph that can be read") from error


def _not_here_already(number: str, text: str) -> None:
    """Raise FileFormatError where the same job is here: the number, and nothing in it differs."""
    known = Job.objects.filter(number=number).first() if number else None
    if known is not None and write_job(Desk.look(known.pk).facts.job) == write_job(read_job(text)):
        raise FileFormatError(
            "job", f"{number} is here already, and nothing in it differs ({reverse('report', args=[known.pk])})"
        )


def _kept(user: User, job: Job, entry: PhotoEntry, data: bytes, width: int, height: int) -> Any:
    """Store a photograph of an archive with its job; return its file."""
    photo = Photo(
        job=job,
        area=entry.area if entry.area in AREAS or entry.area == PLATE else "",
        step=entry.step if STEP.fullmatch(entry.step) else "",
        caption=" ".join(entry.caption.split()),
        by=user,
        width=width,
        height=height,
    )
    if entry.reading is not None:
        state, phase, datum, place = entry.reading
        photo.reading = job.readings.filter(state__key=state, phase=phase, datum=datum, place=place).last()
    photo.file.save("photo.jpg", ContentFile(data), save=True)
    return photo.file


def is_archive(upload: UploadedFile[Any]) -> bool:
    """Tell whether a file is meant as an archive: by its name, or by how it begins."""
    head = upload.read(len(BEGINS))
    upload.seek(0)
    return (upload.name or "").lower().endswith(".zip") or head == BEGINS
