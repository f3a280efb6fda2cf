"""Results as plain dictionaries, lists and numbers."""

from __future__ import annotations

from dataclasses import asdict, is_dataclass
from typing import Any

from vantok_core.files.cases.asked import Asked

Inputs = Asked
"""What an adapter is given."""
Outputs = dict[str, Any]


def plain(value: Any) -> Any:
    """Return a result as plain dictionaries, lists and numbers, None left out."""
    if is_dataclass(value) and not isinstance(value, type):
        return {k: plain(v) for k, v in asdict(value).items() if v is not None}
    if isinstance(value, dict):
        return {k: plain(v) for k, v in value.items() if v is not None}
    if isinstance(value, (list, tuple)):
        return [plain(v) for v in value]
    return value
