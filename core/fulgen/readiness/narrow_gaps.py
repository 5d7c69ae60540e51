"""Gaps and slits that are too narrow to weed."""

from __future__ import annotations

from collections.abc import Iterator

from fulgen.readiness.cluster_view import ClusterView, Search, touch_up_remedy
from fulgen.readiness.finding import LENGTH, Finding


def _gaps(look: ClusterView) -> Iterator[Finding]:
    limit = look.limits.gap_mm
    for slot in look.gaps:
        if slot.slit:
            yield look.finding(
                "slit", f"A slit {look.whose_place(slot.region)} is too narrow to weed: {LENGTH}.",
                slot.region, slot.width, limit, slot.width,
                remedy=touch_up_remedy("Close the slit", "close", limit),
            )  # fmt: skip
            continue
        yield look.finding(
            "near",
            f"Two edges {look.whose_place(slot.region)} almost touch: {LENGTH} apart.",
            slot.region, slot.width, limit, slot.width, blocks=False,
            remedy=touch_up_remedy("Close the gap", "close", limit),
        )  # fmt: skip


NARROW_GAPS = Search(
    _gaps,
    {
        "near": "The gap is not there any more, or its edges meet at one end: that is a bay, which can be "
        "weeded.",
        "slit": "The slit is not there any more, or it has opened.",
    },
)
