"""Static files under names that carry their contents' digest, the script's modules' imports of one another included."""

from pathlib import Path

from django.http import HttpRequest, HttpResponse
from django.views import View
from whitenoise.storage import CompressedManifestStaticFilesStorage


class Storage(CompressedManifestStaticFilesStorage):  # type: ignore[misc] # the package has no types
    """Rewrites the imports of modules too, so that a browser never mixes two versions of the script."""

    support_js_module_import_aggregation = True
    manifest_strict = False

    def stored_name(self, name: str) -> str:
        """Return a file's name with its digest; its plain one where the folder was cleared, which costs a page its look and not the page."""
        try:
            return str(super().stored_name(name))
        except ValueError:
            return str(self.clean_name(name))


OFFLINE = Path(__file__).parent / "static" / "vantok" / "offline.js"


class OfflineScript(View):
    """The worker that keeps a job's pages on the device, served from the root: a browser lets it see what stands beside and below it."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """Send it; asked for anew each time, so that no device keeps an old one."""
        return HttpResponse(OFFLINE.read_bytes(), content_type="text/javascript", headers={"Cache-Control": "no-cache"})
