"""Jobs: progress, cancel, and what is left of them when the process dies."""

import os
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from accounts.models import Practice
from accounts.scoping import Actor
from chores import Chore, Die, Hang, Hold, Refuse, Whence, wait_for, wait_gone
from django.utils import timezone
from jobs import runs
from jobs.actions import begin, cancel, look
from jobs.models import Job, RunState
from wire.errors import TooManyError

CHICKEN, RICE = "usda:05062", "usda:20445"


@pytest.fixture(autouse=True)
def _nothing_goes_on_beside_a_test() -> Iterator[None]:
    # A practice of another test may have had the same number.
    assert runs.stop_all(20)
    yield
    assert runs.stop_all(20)


def never(job: Job) -> Any:
    raise AssertionError("this job must not be run again")


def begun(office: Any, work: runs.Work, basis: str = "same") -> Job:
    return begin(office.who, "test", 1, {"asked": 1}, basis, work)


def dead(job: Job) -> Job:
    """The job as a process finds it that did not start it."""
    runs.forget(job.pk)
    return Job.objects.get(pk=job.pk)


def test_a_result_is_written_down_and_needs_no_process(office: Any) -> None:
    job = look(begun(office, Chore('{"answer":42}')), never, 20)
    assert (job.state, job.result) == ("done", '{"answer":42}')
    later = dead(job)
    assert look(later, never, 0).result == '{"answer":42}'
    assert later.finished is not None and later.by == "larch"


def test_a_job_is_no_copy_of_the_server(office: Any) -> None:
    """A copy would hold the locks of threads that it does not have, and could wait for them for ever."""
    said = look(begun(office, Whence()), never, 20).result
    parent, threads = map(int, said.split())
    assert parent != os.getpid() and threads == 1


def test_progress_and_cancel_reach_the_work(office: Any, tmp_path: Path) -> None:
    job = begun(office, Hold(tmp_path))
    wait_for(tmp_path, "began-*")
    seen = look(job, never, 0.5)
    assert (seen.state, seen.done, seen.of, seen.label) == ("running", 1, 3, "energy")
    cancel(seen)
    assert look(seen, never, 20).result == "stopped"


def test_a_run_that_died_with_its_server_is_run_again(office: Any, tmp_path: Path) -> None:
    job = begun(office, Hold(tmp_path))
    assert look(job, never, 0).over is False
    orphan = dead(job)
    assert orphan.state in ("waiting", "running")

    def again(row: Job) -> tuple[str, runs.Work]:
        assert row.ask == {"asked": 1}
        return "same", Chore("computed anew")

    # The one before may still have the place that a practice has.
    (tmp_path / "go").touch()
    assert look(orphan, again, 20).result == "computed anew"


def test_a_run_is_not_run_again_on_another_case_than_it_was_asked_of(
    office: Any, tmp_path: Path
) -> None:
    orphan = dead(begun(office, Hold(tmp_path)))
    closed = look(orphan, lambda row: ("other", Chore("wrong")), 20)
    assert closed.state == "failed" and closed.error is not None
    assert "changed while this ran" in closed.error["message"]
    (tmp_path / "go").touch()


def test_a_cancelled_run_stays_cancelled_after_a_restart(office: Any, tmp_path: Path) -> None:
    job = begun(office, Hold(tmp_path))
    cancel(job)
    closed = look(dead(job), never, 0)
    assert closed.state == "cancelled" and closed.result == ""


def test_two_who_look_at_once_start_it_once(office: Any, tmp_path: Path) -> None:
    job = Job.objects.create(
        practice=office.practice, kind="test", subject=1, by="x", ask={}, basis="same"
    )
    first, second = Job.objects.get(pk=job.pk), Job.objects.get(pk=job.pk)
    for row in (first, second):
        assert look(row, lambda row: ("same", Hold(tmp_path)), 0).over is False
    wait_for(tmp_path, "began-*")
    (tmp_path / "go").touch()
    assert look(first, never, 20).result == "went on"
    # The other one read the row before its end was written: it finds the end, and runs nothing.
    assert look(second, never, 0).result == "went on"
    assert len(list(tmp_path.glob("began-*"))) == 1


def test_input_errors_of_a_job_keep_their_field(office: Any) -> None:
    job = look(begun(office, Refuse()), never, 20)
    assert (job.state, job.error) == ("failed", {"field": "mode", "message": "is wrong"})


@pytest.mark.parametrize(
    ("work", "told"),
    [(Refuse(ZeroDivisionError), "a job failed"), (Die(), "ended with -9")],
    ids=["error", "process died"],
)
def test_an_unexpected_failure_is_said_plainly(
    office: Any, caplog: pytest.LogCaptureFixture, work: runs.Work, told: str
) -> None:
    job = look(begun(office, work), never, 20)
    assert job.state == "failed" and job.error is not None
    assert "nothing was changed" in job.error["message"]
    assert told in caplog.text


def test_one_that_is_stopped_in_line_gives_its_place_back(office: Any, tmp_path: Path) -> None:
    begun(office, Hold(tmp_path))
    for _ in range(2 * runs.MOST_WAITING):
        job = begun(office, Chore("never ran"))
        cancel(job)
        assert look(job, never, 20).error == {"field": "", "message": runs.STOPPED.message}


def test_one_that_hangs_is_ended_when_it_was_asked_to_stop(
    office: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """And its place is free for the next: nothing but its own process is lost."""
    monkeypatch.setattr(runs, "STOP_SECONDS", 0.2)
    job = begun(office, Hang(tmp_path))
    wait_for(tmp_path, "hangs-*")
    cancel(job)
    seen = look(job, never, 20)
    assert seen.state == "failed" and seen.error is not None
    assert "had found nothing" in seen.error["message"]
    pid = int(next(tmp_path.glob("hangs-*")).name.removeprefix("hangs-"))
    assert look(begun(office, Chore("next")), never, 20).result == "next"
    wait_gone(pid)


def test_one_that_hangs_is_ended_after_its_time(office: Any, tmp_path: Path) -> None:
    job = look(begun(office, Hang(tmp_path, seconds=0.3)), never, 20)
    assert job.state == "failed" and job.error is not None
    assert "found no end" in job.error["message"]
    assert look(begun(office, Chore("next")), never, 20).result == "next"


def test_runs_nobody_looks_at_are_forgotten_and_their_rows_kept(
    office: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = begun(office, Chore("x"))
    monkeypatch.setattr(runs, "KEEP_SECONDS", -1.0)
    begun(office, Chore("y"))
    assert runs.find(job.pk) is None
    assert Job.objects.filter(pk=job.pk).exists()


def test_a_practice_that_fills_its_places_leaves_one_to_its_neighbour(
    office: Any, tmp_path: Path
) -> None:
    """However many wait of the one, the other's is done; and the one is told when it asks for too many."""
    jobs = [begun(office, Hold(tmp_path)) for _ in range(runs.EACH + runs.MOST_WAITING)]
    wait_for(tmp_path, "began-*", runs.EACH)
    states = [look(job, never, 0).state for job in jobs]
    assert (states.count("running"), states.count("waiting")) == (runs.EACH, runs.MOST_WAITING)
    with pytest.raises(TooManyError, match="let one end"):
        begun(office, Chore())
    said = office.send("post", f"recipes/{office.recipe.pk}/formulate", ASK)
    assert said.status_code == 429 and "let one end" in said.json()["error"]["message"]

    other = Practice.objects.create(name="Neighbour")
    theirs = begin(Actor(other, "rowan"), "test", 1, {}, "same", Chore("done"))
    assert look(theirs, never, 20).result == "done"
    assert all(not look(job, never, 0).over for job in jobs)
    (tmp_path / "go").touch()
    assert {look(job, never, 20).result for job in jobs} == {"went on"}


ASK = {
    "lines": [{"food": CHICKEN, "quantity": "100 g"}, {"food": RICE, "quantity": "100 g"}],
    "covers_days": 1,
    "settings": {"mode": "rebalance"},
}


def ended(office: Any, answer: Any) -> Any:
    for _ in range(100):
        if answer.status_code != 202:
            return answer.json()
        answer = office.get(f"formulations/{answer.json()['job']}")
    raise AssertionError("the run did not end")


def test_a_formulation_outlives_the_process_that_began_it(office: Any) -> None:
    """The row alone is enough: the same amounts are found again."""
    path = f"recipes/{office.recipe.pk}/formulate"
    first = ended(office, office.send("post", path, ASK))
    row = Job.objects.get(pk=first["job"])
    row.state, row.result, row.finished = RunState.RUNNING, "", None
    row.save()
    runs.forget(row.pk)
    again = ended(office, office.get(f"formulations/{row.pk}"))
    amounts = [c["after"] for c in first["result"]["changes"]]
    assert amounts and [c["after"] for c in again["result"]["changes"]] == amounts


def test_a_formulation_of_a_case_that_changed_meanwhile_is_not_run_again(office: Any) -> None:
    path = f"recipes/{office.recipe.pk}/formulate"
    job = ended(office, office.send("post", path, ASK))["job"]
    Job.objects.filter(pk=job).update(state=RunState.RUNNING, result="")
    runs.forget(Job.objects.get(pk=job).pk)
    assert office.change(dog__weight_kg=25).status_code == 200
    answer = office.get(f"formulations/{job}")
    assert answer.status_code == 400
    assert "start it again" in answer.json()["error"]["message"]


def test_a_page_that_was_reloaded_finds_its_formulation_until_it_is_put_away(office: Any) -> None:
    path = f"recipes/{office.recipe.pk}/formulate"
    assert office.get(path).json() == {"last": None}
    job = ended(office, office.send("post", path, ASK))
    last = office.get(path).json()["last"]
    assert last["job"] == job["job"] and last["result"] == job["result"]
    assert [(x["food"], x["quantity"]) for x in last["lines"]] == [
        (x["food"], x["quantity"]) for x in ASK["lines"]
    ]
    assert office.send("delete", f"formulations/{job['job']}").status_code == 204
    assert office.get(path).json() == {"last": None}


def test_nobody_is_offered_the_run_of_someone_else_or_of_long_ago(office: Any) -> None:
    path = f"recipes/{office.recipe.pk}/formulate"
    job = ended(office, office.send("post", path, ASK))["job"]
    row = Job.objects.filter(pk=job)
    row.update(by="a colleague")
    assert office.get(path).json() == {"last": None}
    row.update(by="larch", created=timezone.now() - timedelta(hours=2))
    assert office.get(path).json() == {"last": None}
    row.update(created=timezone.now())
    assert office.get(path).json()["last"]["job"] == job


def test_a_server_that_ends_waits_for_what_it_computes(office: Any, tmp_path: Path) -> None:
    """What was begun ends with what it has; what had not begun does not begin."""
    jobs = [begun(office, Hold(tmp_path)) for _ in range(runs.EACH + 1)]
    wait_for(tmp_path, "began-*", runs.EACH)
    assert runs.stop_all(20)
    assert [look(job, never, 0).result for job in jobs] == [*["stopped"] * runs.EACH, ""]
