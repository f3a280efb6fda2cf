"""What leads a page: the worst first, what to do with it, nothing lost, and an act never without what it is about."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from vantok_core.base.say import MOST_LED, Finding, Say, Verdict, in_turn, length

WORDS = st.text("abcdefgh ,", min_size=1, max_size=90).map(lambda t: f"A{t.strip() or 'b'}.")
SAYS = st.builds(Say, WORDS, act=st.sampled_from(("", "", "alone", "with")))


class Leads(TestCase):
    def test_a_place_is_filled_once(self) -> None:
        """By a quantity in the reader's units, a name as it was written, a count, a sentence of its own; braces in somebody's words are theirs."""
        why = Say("{n} of {all}", {"n": 2, "all": "{n}"})
        said = Say("{state}: {sag}, {why}{other}", {"state": "{sag}", "sag": length(0.05), "why": why})
        self.assertEqual(said.in_units("metric"), "{sag}: 50\u00a0mm, 2 of {n}{other}")
        self.assertEqual(
            in_turn([said, "as told", 3], "; ").in_units("us"),
            "{sag}: 1\u00a015/16\u00a0in, 2 of {n}{other}; as told; 3",
        )

    @given(st.lists(SAYS, min_size=1, max_size=7))
    def test_nothing_is_lost_and_the_first_leads(self, sentences: list[Say]) -> None:
        """Lead and rest hold every sentence once, each in its order; the first sentence leads; the lead keeps its length unless that alone is longer."""
        lead, rest = Verdict(tone="act", sentences=tuple(sentences)).parted("metric")
        told = [one.in_units("metric") for one in sentences]
        self.assertTrue(lead.startswith(told[0]))
        self.assertEqual(sorted((lead + rest).replace(" ", "")), sorted("".join(told).replace(" ", "")))
        self.assertTrue(len(lead) <= MOST_LED or lead == told[0])

    @given(st.lists(WORDS, min_size=2, max_size=5, unique=True), st.integers(1, 4))
    def test_an_act_stands_with_what_it_hangs_on(self, words: list[str], at: int) -> None:
        """“Read them again” leads only where what is to be read again leads too."""
        at = min(at, len(words) - 1)
        said = [Say(w, act="with" if n == at else "") for n, w in enumerate(words)]
        lead, _ = Verdict(tone="act", sentences=tuple(said)).parted("metric")
        self.assertTrue(words[at] not in lead or words[at - 1] in lead)

    def test_what_to_do_comes_before_what_follows(self) -> None:
        """Of a long verdict the act leads and what is told besides folds; a finding's act is known as one, whoever worded it."""
        besides = Say(
            "What it means for the lamps, the caster and the tyres is told below, at some length and in full."
        )
        over, move = Say("The rear axle is 61 kg over."), Say("Move load first.", act="alone")
        lead, rest = Verdict(tone="limit", sentences=(over, besides, besides, move)).parted("metric")
        self.assertIn("Move load first.", lead)
        self.assertIn("at some length", rest)
        self.assertEqual(Finding(key="k", tone="act", what=over, do=Say("Weigh it.")).do.act, "with")

    def test_a_sentence_too_long_parts_at_its_own_joint(self) -> None:
        """One sentence longer than the lead is cut at its last joint that fits; without one it stands whole."""
        long = (
            "The tail strikes its stops "
            + "again and " * 8
            + "again; "
            + "the blow at the seat is the same " * 3
            + "as before."
        )
        lead, rest = Verdict(tone="act", sentences=(Say(long),)).parted("metric")
        self.assertTrue(lead.endswith("again.") and rest.startswith("The blow"))
        whole = long.replace("; ", ", ")
        self.assertEqual(Verdict(tone="act", sentences=(Say(whole),)).parted("metric"), (whole, ""))
