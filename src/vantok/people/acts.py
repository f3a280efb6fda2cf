"""What a page can be told to do: one table a page, made of its methods marked so. Which posts there are, and the right each takes, follow from it: the gate
asks that right before the method runs, and the change it makes asks it again."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar, TypeVar

from django.http import Http404, HttpRequest, HttpResponse

from vantok.people.gate import right_of

ANY = "*"
"""The name of an act that takes every post which names no other."""
Doing = TypeVar("Doing", bound=Callable[..., Any])


def act(right: str, *names: str) -> Callable[[Doing], Doing]:
    """Mark a method as what posts of these names do, with the right that takes; without names: every other post. Some by one right, some by another: twice."""

    def marked(method: Doing) -> Doing:
        told = {name: right for name in names or (ANY,)}
        method.acts = told | getattr(method, "acts", {})  # type: ignore[attr-defined]
        return method

    return marked


class Acting:
    """A view whose posts are its marked methods; one that is posted to in one way alone may name that right as `rights`, and have its own `post`."""

    rights: ClassVar[str | dict[str, str] | None] = None
    acts: ClassVar[dict[str, str]] = {}
    request: HttpRequest

    def __init_subclass__(cls, **kwargs: Any) -> None:
        """Make the table of a view's acts: their names, each with its method and its right."""
        super().__init_subclass__(**kwargs)
        marked = {name: told for name, method in vars(cls).items() if (told := getattr(method, "acts", None))}
        if marked:
            cls.acts = {one: method for method, told in marked.items() for one in told}
            cls.rights = {one: right for told in marked.values() for one, right in told.items()}
            cls.post = Acting._post  # type: ignore[attr-defined]

    def _post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        method = self.acts.get(self.asked) or self.acts.get(ANY)
        if method is None:
            raise Http404
        return self.do(getattr(self, method))

    def do(self, doing: Callable[[], Any]) -> HttpResponse:
        """Do it; a page that answers what cannot be done in one way does so here."""
        answer: HttpResponse = doing()
        return answer

    @property
    def asked(self) -> str:
        """What is to be done."""
        return self.request.POST.get("action", "")

    @property
    def right(self) -> str:
        """The right that takes, as the table has it: the gate has asked for it."""
        return right_of(type(self), self.asked) or ""
