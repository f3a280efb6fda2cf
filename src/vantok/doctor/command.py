"""`run.py doctor`: the examination on a screen; leaves with 1 where something is to do."""

from __future__ import annotations

import sys

import django


def main() -> int:
    """Return the exit code: 0 when all is well."""
    django.setup()
    from vantok.doctor.examine import examine, report  # noqa: PLC0415 - its models need Django set up

    found = examine()
    print("\n".join(report(found)))
    to_do = sum(not one.well for one in found)
    print(f"{to_do} to do." if to_do else "All is well.")
    return 1 if to_do else 0


if __name__ == "__main__":
    sys.exit(main())
