"""`run.py lead NAME`: at the machine itself, make a person a lead who can sign in again; nobody else can where no lead is left."""

from __future__ import annotations

import os
import sys
from getpass import getpass


def main(arguments: list[str]) -> int:
    """Return the exit code: 0 once the person is a lead, 2 with why not."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vantok.settings")
    import django  # noqa: PLC0415 - set up before its models are read

    django.setup()
    from axes.utils import reset  # noqa: PLC0415
    from django.contrib.auth.password_validation import validate_password  # noqa: PLC0415
    from django.core.exceptions import ValidationError  # noqa: PLC0415

    from vantok.people.models import Role, User  # noqa: PLC0415

    name = arguments[0]
    person = User.objects.filter(username=name).first()
    if person is None:
        known = ", ".join(User.objects.values_list("username", flat=True)) or "nobody"
        print(f"There is no {name} here. Known: {known}.", file=sys.stderr)
        return 2
    told = (
        getpass(f"New password for {name} (empty: as it was): ")
        if sys.stdin.isatty()
        else os.environ.get("VANTOK_PASSWORD", "")
    )
    if told:
        try:
            validate_password(told, person)
        except ValidationError as error:
            print(" ".join(error.messages), file=sys.stderr)
            return 2
        person.set_password(told)
    person.role, person.is_active = Role.LEAD, True
    person.save()
    reset(username=name)
    print(f"{person} is a lead and can sign in as {name}{' with the new password' if told else ''}.")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
