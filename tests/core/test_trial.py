"""An elimination trial: what it refuses, what it reads, what a food is said to do."""

from collections.abc import Iterable
from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    rule,
    run_state_machine_as_test,
)
from wainscot_core.boundary import dump, read
from wainscot_core.confidence import Confidence
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.trials import TrialKind
from wainscot_core.followup.entry import DayEntry, Sign
from wainscot_core.followup.trial import (
    Disturbance,
    MoveKind,
    Outcome,
    Phase,
    TrialMove,
    TrialPlan,
    TrialRecord,
    Verdict,
    state_of,
)
from wainscot_core.followup.trial_moves import make, take_back
from wainscot_core.followup.trial_now import trial_now

START = date(2026, 1, 5)


def on(n: int) -> date:
    return START + timedelta(days=n)


def days(first: int, last: int, itch: float, stool: int = 3, **more: object) -> list[DayEntry]:
    """A log of days from one to another, both within."""
    return [
        DayEntry(date=on(n), itch=itch, stool=stool, **more)  # type: ignore[arg-type]
        for n in range(first, last + 1)
    ]


class Run:
    """A trial that is being run, and its log."""

    def __init__(self, facts: Reference, kind: TrialKind = TrialKind.SKIN, **plan: object) -> None:
        self.rules = facts.trials
        self.record = TrialRecord(
            plan=TrialPlan(kind=kind, started=START, diet=("rabbit", "potato"), **plan)  # type: ignore[arg-type]
        )
        self.log: list[DayEntry] = []

    def logged(self, *entries: Iterable[DayEntry]) -> "Run":
        for found in entries:
            self.log.extend(found)
        return self

    def do(self, kind: MoveKind, day: int, **more: object) -> "Run":
        move = TrialMove(kind=kind, date=on(day), **more)  # type: ignore[arg-type]
        self.record = make(self.rules, self.record, self.log, move, on(1000))
        return self

    def refused(self, kind: MoveKind, day: int, **more: object) -> str:
        with pytest.raises(InputError) as found:
            self.do(kind, day, **more)
        return found.value.message

    @property
    def state(self):  # type: ignore[no-untyped-def]
        return state_of(self.rules, self.record)

    def verdict(self, food: str):  # type: ignore[no-untyped-def]
        return self.state.verdicts[food]


@pytest.fixture
def run(facts: Reference) -> Run:
    return Run(facts)


def on_trial(run: Run, itch: float = 6) -> Run:
    """Baseline of ten days, then nothing but the diet from day 10."""
    run.logged(days(0, 9, itch))
    return run.do(MoveKind.FEED, 10)


def confirmed(run: Run) -> Run:
    """Response on day 66, old diet back, flare on day 70, clear on day 80."""
    on_trial(run).logged(days(10, 66, 2))
    run.do(MoveKind.READ, 66).do(MoveKind.PROVOKE, 67)
    run.logged(days(67, 68, 2), days(69, 70, 5), days(71, 80, 2))
    run.do(MoveKind.FLARE, 70).do(MoveKind.CLEAR, 80)
    return run


class TestBaseline:
    def test_is_at_least_a_week(self, run: Run) -> None:
        run.logged(days(0, 9, 6))
        assert "2026-01-12" in run.refused(MoveKind.FEED, 6)
        assert run.do(MoveKind.FEED, 7).state.phase is Phase.TRIAL

    def test_needs_five_days_of_itch(self, run: Run) -> None:
        run.logged(days(0, 3, 6))
        assert "4 days" in run.refused(MoveKind.FEED, 10)
        run.logged(days(4, 4, 6)).do(MoveKind.FEED, 10)

    def test_waits_for_a_new_medicine(self, run: Run) -> None:
        run.logged(days(0, 20, 6))
        run.do(MoveKind.DISTURBANCE, 2, disturbance=Disturbance.MEDICINE)
        assert on(16).isoformat() in run.refused(MoveKind.FEED, 15)
        run.do(MoveKind.FEED, 16)

    def test_has_to_show_trouble(self, run: Run) -> None:
        run.logged(days(0, 9, 1))
        assert "no trouble" in run.refused(MoveKind.FEED, 10)

    def test_of_the_gut_is_told_by_stool(self, facts: Reference) -> None:
        well = Run(facts, TrialKind.GUT).logged(days(0, 9, 8, stool=3))
        assert "no trouble" in well.refused(MoveKind.FEED, 10)
        Run(facts, TrialKind.GUT).logged(days(0, 9, 0, stool=5)).do(MoveKind.FEED, 10)


class TestReading:
    @pytest.mark.parametrize(
        ("now", "outcome"),
        [
            (3, Outcome.RESPONSE),
            (3.1, Outcome.PARTIAL),
            (4.5, Outcome.PARTIAL),
            (4.6, Outcome.NONE),
        ],
    )
    def test_of_the_skin_is_half_or_a_quarter(self, run: Run, now: float, outcome: Outcome) -> None:
        on_trial(run, 6).logged(days(10, 66, now)).do(MoveKind.READ, 66)
        assert run.state.outcome is outcome

    def test_under_two_is_a_response(self, run: Run) -> None:
        on_trial(run, 2.5).logged(days(10, 66, 1.9)).do(MoveKind.READ, 66)
        assert run.state.outcome is Outcome.RESPONSE

    def test_is_refused_before_eight_weeks(self, run: Run) -> None:
        on_trial(run).logged(days(10, 66, 5))
        assert on(66).isoformat() in run.refused(MoveKind.READ, 65)
        assert run.state.outcome is None

    def test_sooner_only_a_response_by_the_vet(self, run: Run) -> None:
        on_trial(run).logged(days(10, 39, 5), days(40, 60, 2))
        run.refused(MoveKind.READ, 39, vet=True)
        run.refused(MoveKind.READ, 23, vet=True)
        run.refused(MoveKind.READ, 50)
        assert run.do(MoveKind.READ, 50, vet=True).state.outcome is Outcome.RESPONSE

    def test_never_in_two_weeks(self, run: Run) -> None:
        on_trial(run).logged(days(10, 30, 1))
        run.refused(MoveKind.READ, 23, vet=True)
        run.do(MoveKind.READ, 24, vet=True)

    def test_no_response_ends_it(self, run: Run) -> None:
        on_trial(run).logged(days(10, 66, 6)).do(MoveKind.READ, 66)
        assert run.state.phase is Phase.ENDED
        assert "ended" in run.refused(MoveKind.PROVOKE, 70)

    def test_partial_is_read_again_at_ten_weeks(self, run: Run) -> None:
        on_trial(run).logged(days(10, 80, 4)).do(MoveKind.READ, 66)
        run.refused(MoveKind.READ, 79)
        assert run.do(MoveKind.READ, 80).state.outcome is Outcome.PARTIAL

    def test_needs_four_days_of_the_last_week(self, run: Run) -> None:
        on_trial(run).logged(days(10, 62, 2))
        assert "fewer than 4" in run.refused(MoveKind.READ, 66)
        run.logged(days(63, 63, 2)).do(MoveKind.READ, 66)

    def test_is_refused_under_a_masking_medicine(self, run: Run) -> None:
        on_trial(run).logged(days(10, 90, 2))
        run.do(MoveKind.DISTURBANCE, 40, disturbance=Disturbance.MASKING)
        assert "masks" in run.refused(MoveKind.READ, 70)
        run.do(MoveKind.DISTURBANCE, 60, disturbance=Disturbance.MASKING, over=True)
        assert on(74).isoformat() in run.refused(MoveKind.READ, 73)
        run.do(MoveKind.READ, 74)

    def test_of_the_gut_takes_stool_number_and_vomiting(self, facts: Reference) -> None:
        def gut(stool: int, stools: int, vomiting: int) -> Outcome:
            run = Run(facts, TrialKind.GUT)
            run.logged(days(0, 9, 0, stool=5, stools=4, vomiting=1)).do(MoveKind.FEED, 10)
            run.logged(days(10, 24, 0, stool=stool, stools=stools, vomiting=vomiting))
            outcome = run.do(MoveKind.READ, 24).state.outcome
            assert isinstance(outcome, Outcome)
            return outcome

        assert gut(3, 2, 0) is Outcome.RESPONSE
        assert gut(4, 2, 0) is Outcome.PARTIAL
        assert gut(3, 3, 0) is Outcome.PARTIAL
        assert gut(3, 2, 1) is Outcome.PARTIAL
        assert gut(5, 4, 1) is Outcome.NONE


class TestSlips:
    def test_without_signs_goes_on(self, run: Run) -> None:
        on_trial(run).logged(days(10, 66, 2)).do(MoveKind.EXPOSURE, 30, food="cheese")
        assert run.do(MoveKind.READ, 66).state.outcome is Outcome.RESPONSE

    def test_with_signs_starts_the_clock_when_clear(self, run: Run) -> None:
        on_trial(run).logged(days(10, 30, 2), days(31, 33, 5), days(34, 106, 2))
        run.do(MoveKind.EXPOSURE, 30, food="cheese", signs=True)
        assert "clear" in run.refused(MoveKind.READ, 70)
        assert "not as before" in run.refused(MoveKind.CLEAR, 33)
        run.do(MoveKind.CLEAR, 41)
        assert on(97).isoformat() in run.refused(MoveKind.READ, 96)
        run.do(MoveKind.READ, 97)

    def test_signs_in_the_log_count_though_nobody_said_so(self, run: Run) -> None:
        on_trial(run).logged(days(10, 30, 2)).do(MoveKind.EXPOSURE, 30, food="cheese")
        run.logged(days(31, 32, 5), days(33, 100, 2))
        assert "the log shows" in run.refused(MoveKind.READ, 66)
        assert "The clock starts again" in trial_now(run.rules, run.record, run.log, on(40)).warnings[0]  # fmt: skip
        run.do(MoveKind.CLEAR, 42)
        run.refused(MoveKind.READ, 66)
        run.do(MoveKind.READ, 98)

    def test_three_in_four_weeks_start_it_again(self, run: Run) -> None:
        on_trial(run).logged(days(10, 110, 2))
        for day in (30, 40, 57):
            run.do(MoveKind.EXPOSURE, day, food="cheese")
        assert on(114).isoformat() in run.refused(MoveKind.READ, 110)

    def test_three_in_longer_do_not(self, run: Run) -> None:
        on_trial(run).logged(days(10, 66, 2))
        for day in (30, 40, 58):
            run.do(MoveKind.EXPOSURE, day, food="cheese")
        run.do(MoveKind.READ, 66)

    def test_is_not_read_within_three_days(self, run: Run) -> None:
        on_trial(run).logged(days(10, 70, 2)).do(MoveKind.EXPOSURE, 65, food="cheese")
        assert on(68).isoformat() in run.refused(MoveKind.READ, 66)
        run.do(MoveKind.READ, 68)


class TestChallenge:
    def test_waits_for_the_reading(self, run: Run) -> None:
        on_trial(run).logged(days(10, 66, 2))
        assert "not read" in run.refused(MoveKind.PROVOKE, 66)
        assert "confirmed" in run.refused(MoveKind.ITEM, 66, food="beef")

    def test_of_the_old_diet_confirms(self, run: Run) -> None:
        confirmed(run)
        assert run.state.confirmed
        assert run.state.phase is Phase.READY

    def test_one_at_a_time(self, run: Run) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef")
        assert run.refused(MoveKind.ITEM, 82, food="egg").startswith("beef is still being tried")
        assert "still being tried" in run.refused(MoveKind.PROVOKE, 82)

    def test_waits_for_washout(self, run: Run) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef")
        run.logged(days(81, 94, 2)).do(MoveKind.PASS, 95, full=True)
        assert "washout" in run.refused(MoveKind.ITEM, 96, food="egg")
        run.logged(days(95, 102, 2))
        assert on(102).isoformat() in run.refused(MoveKind.CLEAR, 101)
        run.do(MoveKind.CLEAR, 102).do(MoveKind.ITEM, 103, food="egg")

    def test_that_nothing_follows_is_tolerated(self, run: Run) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef")
        run.logged(days(81, 94, 2.5))
        assert "14 days" in run.refused(MoveKind.PASS, 94, full=True)
        run.do(MoveKind.PASS, 95, full=True)
        assert run.verdict("beef").verdict is Verdict.TOLERATED
        assert run.verdict("beef").confidence is Confidence.HIGH

    @pytest.mark.parametrize("why", ["part", "log", "medicine", "slip"])
    def test_that_proves_nothing_is_unsure(self, run: Run, why: str) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef")
        run.logged(days(81, 84 if why == "log" else 94, 2))
        if why == "medicine":
            run.do(MoveKind.DISTURBANCE, 85, disturbance=Disturbance.MEDICINE)
        if why == "slip":
            run.do(MoveKind.EXPOSURE, 85, food="cheese")
        run.do(MoveKind.PASS, 95, full=why != "part")
        assert run.verdict("beef").verdict is Verdict.UNSURE

    def test_what_is_told_later_takes_it_back(self, run: Run) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef")
        run.logged(days(81, 94, 2)).do(MoveKind.PASS, 95, full=True)
        run.do(MoveKind.DISTURBANCE, 90, disturbance=Disturbance.MASKING)
        assert run.verdict("beef").verdict is Verdict.UNSURE

    def test_a_flare_is_likely_and_proven_when_clear(self, run: Run) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef")
        run.logged(days(81, 83, 2), days(84, 85, 4), days(86, 100, 2))
        assert "flare" in run.refused(MoveKind.PASS, 95, full=True)
        run.do(MoveKind.FLARE, 85)
        assert run.verdict("beef").verdict is Verdict.LIKELY
        run.do(MoveKind.CLEAR, 93)
        assert run.verdict("beef").verdict is Verdict.REACTS
        assert run.verdict("beef").confidence is Confidence.MEDIUM

    def test_a_staple_takes_two(self, run: Run) -> None:
        confirmed(run)
        for first in (81, 101):
            run.do(MoveKind.ITEM, first, food="beef", staple=True)
            run.logged(days(first, first + 2, 2), days(first + 3, first + 4, 4), days(first + 5, first + 19, 2))  # fmt: skip
            run.do(MoveKind.FLARE, first + 4).do(MoveKind.CLEAR, first + 15)
            wanted = Verdict.LIKELY if first == 81 else Verdict.REACTS
            assert run.verdict("beef").verdict is wanted
        assert run.verdict("beef").confidence is Confidence.HIGH

    def test_a_flare_that_is_only_said_is_never_proven(self, run: Run) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef").logged(days(81, 100, 2))
        assert "no flare" in run.refused(MoveKind.FLARE, 85)
        run.do(MoveKind.FLARE, 85, signs=True).do(MoveKind.CLEAR, 93)
        assert run.verdict("beef").verdict is Verdict.LIKELY

    @pytest.mark.parametrize(("full", "verdict"), [(True, Verdict.UNSURE), (False, Verdict.REACTS)])
    def test_a_flare_is_not_forgotten_when_it_is_tried_again(
        self, run: Run, full: bool, verdict: Verdict
    ) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef")
        run.logged(days(81, 84, 2), days(85, 86, 4), days(87, 100, 2))
        run.do(MoveKind.FLARE, 86).do(MoveKind.CLEAR, 94)
        run.do(MoveKind.ITEM, 101, food="Beef").logged(days(101, 115, 2))
        run.do(MoveKind.PASS, 115, full=full)
        assert run.verdict("beef").verdict is verdict

    def test_waits_while_the_response_does_not_hold(self, run: Run) -> None:
        on_trial(run).logged(days(10, 66, 2)).do(MoveKind.READ, 66)
        run.logged(days(67, 80, 6))
        assert "does not hold" in run.refused(MoveKind.PROVOKE, 80)

    def test_a_late_flare_takes_tolerated_back(self, run: Run) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="beef").logged(days(81, 94, 2))
        run.do(MoveKind.PASS, 95, full=True)
        run.logged(days(95, 95, 2), days(96, 97, 5), days(98, 110, 2)).do(MoveKind.CLEAR, 106)
        assert run.verdict("beef").verdict is Verdict.UNSURE

    def test_swelling_is_never_tried_again(self, run: Run) -> None:
        confirmed(run).do(MoveKind.ITEM, 81, food="Beef")
        run.logged([DayEntry(date=on(82), itch=2, signs=(Sign.SWELLING,))], days(83, 100, 2))
        run.do(MoveKind.FLARE, 82)
        assert run.verdict("beef").verdict is Verdict.REACTS
        assert "veterinarian" in run.refused(MoveKind.CLEAR, 95)
        run.do(MoveKind.CLEAR, 95, vet=True)
        assert "never tried" in run.refused(MoveKind.ITEM, 101, food=" beef")
        assert "nothing of" in run.refused(MoveKind.ITEM, 101, food="veal")

    def test_a_food_of_prior_swelling_is_refused(self, facts: Reference) -> None:
        run = Run(facts, severe=("egg",))
        on_trial(run).logged(days(10, 66, 2)).do(MoveKind.READ, 66)
        assert "egg" in run.refused(MoveKind.PROVOKE, 67)
        run.do(MoveKind.PROVOKE, 67, without_severe=True)

    def test_is_not_begun_while_worse(self, run: Run) -> None:
        confirmed(run).logged(days(81, 90, 3))
        assert "not as it was" in run.refused(MoveKind.ITEM, 91, food="beef")

    def test_needs_the_week_before(self, run: Run) -> None:
        confirmed(run)
        assert "fewer than 4" in run.refused(MoveKind.ITEM, 91, food="beef")

    def test_nothing_from_the_old_diet_is_not_a_reaction(self, run: Run) -> None:
        on_trial(run).logged(days(10, 81, 2)).do(MoveKind.READ, 66).do(MoveKind.PROVOKE, 67)
        run.refused(MoveKind.PASS, 81)
        run.do(MoveKind.PASS, 81, full=True)
        assert "not shown" in run.state.ended


class TestFlare:
    @pytest.mark.parametrize(
        ("after", "flares"),
        [
            ([{"itch": 4}, {"itch": 2}, {"itch": 4}], True),
            ([{"itch": 4}, {"itch": 2}, {"itch": 2}, {"itch": 4}], False),
            ([{"itch": 3.9}, {"itch": 3.9}, {"itch": 3.9}], False),
            ([{"stool": 6}], True),
            ([{"stool": 5}, {"stool": 5}], True),
            ([{"stool": 5}, {"stool": 3}, {"stool": 3}, {"stool": 5}], False),
            ([{"vomiting": 1}, {"vomiting": 1}], True),
            ([{"vomiting": 1}] + [{"itch": 2}] * 6 + [{"vomiting": 1}], False),
            ([{"signs": (Sign.EAR,)}], True),
            ([{"signs": (Sign.PAWS,)}], False),
        ],
    )  # fmt: skip
    def test_against_the_week_before(
        self, run: Run, after: list[dict[str, object]], flares: bool
    ) -> None:
        """Paws were licked before too."""
        confirmed(run)
        run.log[-1] = replace(run.log[-1], signs=(Sign.PAWS,))
        run.do(MoveKind.ITEM, 81, food="beef")
        for n, day in enumerate(after):
            run.logged([replace(DayEntry(date=on(81 + n), itch=2, stool=3), **day)])  # type: ignore[arg-type]
        if flares:
            run.do(MoveKind.FLARE, 95)
        else:
            run.refused(MoveKind.FLARE, 95)


def test_a_record_is_kept_and_taken_back(run: Run) -> None:
    confirmed(run)
    assert read(TrialRecord, dump(run.record)) == run.record
    run.record = take_back(run.record)
    assert run.state.phase is Phase.CONFIRMING


def test_passed_foods_are_the_diet_and_what_is_tolerated(run: Run) -> None:
    confirmed(run).do(MoveKind.ITEM, 81, food="beef").logged(days(81, 102, 2))
    run.do(MoveKind.PASS, 95, full=True)
    now = trial_now(run.rules, run.record, run.log, on(96))
    assert now.passed == ("rabbit", "potato", "beef")
    assert [d.date for d in now.due] == [on(102)]
    assert {o.kind for o in now.options if not o.why} == {
        MoveKind.EXPOSURE, MoveKind.DISTURBANCE, MoveKind.STOP
    }  # fmt: skip


class Trial(RuleBasedStateMachine):
    """Whatever is done in whatever order, on whatever log: what is on record keeps the rules, told from the moves alone."""

    facts: Reference

    def __init__(self) -> None:
        super().__init__()
        self.day = 0

    @initialize(kind=st.sampled_from(TrialKind), severe=st.booleans())
    def begin(self, kind: TrialKind, severe: bool) -> None:
        self.run = Run(self.facts, kind, severe=("egg",) if severe else ())
        self.severe = {"egg"} if severe else set()
        self.run.logged(days(0, 9, 6, 5))
        self.day = 10

    @rule(n=st.integers(1, 16), itch=st.sampled_from([1, 1, 2, 3, 6]), stool=st.sampled_from([2, 2, 3, 5]),
          every=st.sampled_from([1, 1, 2, 3]))  # fmt: skip
    def some_days(self, n: int, itch: int, stool: int, every: int) -> None:
        for day in range(self.day, self.day + n, every):
            self.run.logged(days(day, day, itch, stool))
        self.day += n

    @rule(n=st.sampled_from([7, 15, 60]))
    def calm_days(self, n: int) -> None:
        self.run.logged(days(self.day, self.day + n - 1, 1, 2))
        self.day += n

    @rule(
        n=st.sampled_from([7, 8, 15, 60]),
        nth=st.integers(0, 5),
        food=st.sampled_from(["beef", "egg", "veal"]),
    )
    def calm_days_lead_on(self, n: int, nth: int, food: str) -> None:
        self.calm_days(n)
        self.goes_on(nth, food, True)

    @rule(sign=st.sampled_from(Sign))
    def sees(self, sign: Sign) -> None:
        self.run.logged([DayEntry(date=on(self.day), signs=(sign,))])

    @rule(nth=st.integers(0, 5), food=st.sampled_from(["beef", "egg", "Beef"]), yes=st.booleans())
    def goes_on(self, nth: int, food: str, yes: bool) -> None:
        """One of what may be done, where anything leads on."""
        now = trial_now(self.run.rules, self.run.record, self.run.log, on(self.day))
        aside = {MoveKind.STOP, MoveKind.FINISH, MoveKind.DISTURBANCE, MoveKind.EXPOSURE}
        kinds = [o.kind for o in now.options if not o.why and o.kind not in aside]
        if kinds:
            self.moves(kinds[nth % len(kinds)], food, yes, now.alarm, Disturbance.SEASON, False)

    @rule(kind=st.sampled_from([k for k in MoveKind if k is not MoveKind.STOP]), food=st.sampled_from(["beef", "egg"]),
          yes=st.booleans(), vet=st.booleans(), disturbance=st.sampled_from(Disturbance), over=st.booleans())  # fmt: skip
    def tries(  # refused more often than not
        self, kind: MoveKind, food: str, yes: bool, vet: bool, disturbance: Disturbance, over: bool
    ) -> None:
        self.moves(kind, food, yes, vet, disturbance, over)

    def moves(
        self, kind: MoveKind, food: str, yes: bool, vet: bool, disturbance: Disturbance, over: bool
    ) -> None:
        try:
            self.run.do(
                kind, self.day, food=food, full=yes, signs=kind is MoveKind.FLARE or (yes and not vet), vet=vet,
                without_severe=True, disturbance=disturbance, over=over, note="a reason",
            )  # fmt: skip
        except InputError:
            return

    @invariant()
    def keeps_the_rules(self) -> None:
        open_food: str | None = None
        read_well = flared_on_old = clear = begun = False
        closed: date | None = None
        severe = set(self.severe)
        for made in self.run.record.made:
            move, kind = made.move, made.move.kind
            if kind is MoveKind.FEED:
                assert not begun
                assert (move.date - START).days >= 7
                began, begun = move.date, True
            elif kind is MoveKind.READ:
                assert begun and open_food is None
                assert (move.date - began).days >= 14
                if made.outcome is Outcome.NONE:
                    least = 56 if self.run.record.plan.kind is TrialKind.SKIN else 14
                    assert (move.date - began).days >= least
                read_well = made.outcome is not Outcome.NONE
            elif kind is MoveKind.PROVOKE:
                assert read_well and open_food is None and not flared_on_old
                open_food = "the old diet"
            elif kind is MoveKind.ITEM:
                assert open_food is None and flared_on_old and clear
                assert closed is None or (move.date - closed).days >= 7
                assert move.food.lower() not in severe
                open_food = move.food.lower()
            elif kind in (MoveKind.FLARE, MoveKind.PASS):
                assert open_food is not None
                if open_food == "the old diet":
                    flared_on_old = kind is MoveKind.FLARE
                else:
                    closed = move.date
                if made.severe:
                    severe.add(open_food)
                if kind is MoveKind.PASS:
                    assert made.verdict is not Verdict.TOLERATED or move.full
                open_food, clear = None, False
            elif kind is MoveKind.CLEAR:
                clear = True
        assert dump(state_of(self.run.rules, self.run.record)) is not None

    @invariant()
    def can_be_shown(self) -> None:
        now = trial_now(self.run.rules, self.run.record, self.run.log, on(self.day))
        assert len(now.options) == len(MoveKind)
        assert (now.phase is Phase.ENDED) == all(o.why for o in now.options)


def test_no_forbidden_path(facts: Reference) -> None:
    Trial.facts = facts
    run_state_machine_as_test(  # type: ignore[no-untyped-call]
        Trial, settings=settings(
            max_examples=100, stateful_step_count=40, suppress_health_check=list(HealthCheck), deadline=None
        ),
    )  # fmt: skip
