"""Static files under names that carry their contents' digest, the script's modules' imports of one another included."""

from whitenoise.storage import CompressedManifestStaticFilesStorage


class Storage(CompressedManifestStaticFilesStorage):  # type: ignore[misc] # the package has no types
    """Rewrites the imports of modules too, so that a browser never mixes two versions of the script."""

    support_js_module_import_aggregation = True
    manifest_strict = False  # a folder of static files that was cleared costs the look of a page, not the page
