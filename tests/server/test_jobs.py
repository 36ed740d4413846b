"""Jobs: progress, cancel, and what is left of them when the process dies."""

import threading
from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone
from jobs import runs
from jobs.actions import begin, cancel, look
from jobs.models import Job
from wainscot_core.errors import InputError

CHICKEN, RICE = "usda:05062", "usda:20445"


def never(job: Job) -> Any:
    raise AssertionError("this job must not be run again")


def begun(office: Any, work: runs.Work, basis: str = "same") -> Job:
    return begin(office.who, "test", 1, {"asked": 1}, basis, work)


def dead(job: Job) -> Job:
    """The job as a process finds it that did not start it."""
    runs.forget(job.pk)
    return Job.objects.get(pk=job.pk)


def test_a_result_is_written_down_and_needs_no_process(office: Any) -> None:
    job = look(begun(office, lambda run: '{"answer":42}'), never, 10)
    assert (job.state, job.result) == ("done", '{"answer":42}')
    later = dead(job)
    assert look(later, never, 0).result == '{"answer":42}'
    assert later.finished is not None and later.by == "larch"


def test_progress_and_cancel_reach_the_work(office: Any) -> None:
    started = threading.Event()

    def work(run: runs.Run) -> str:
        run.progress(1, 3, "energy")
        started.set()
        assert run.cancelled.wait(10)
        return "stopped"

    job = begun(office, work)
    assert started.wait(10)
    seen = look(job, never, 0)
    assert (seen.state, seen.done, seen.of, seen.label) == ("running", 1, 3, "energy")
    cancel(seen)
    assert look(seen, never, 10).result == "stopped"


def test_a_run_that_died_with_its_process_is_run_again(office: Any) -> None:
    hold = threading.Event()
    job = begun(office, lambda run: str(hold.wait(10)))
    assert look(job, never, 0).over is False
    orphan = dead(job)
    assert orphan.state in ("waiting", "running")

    def again(row: Job) -> tuple[str, runs.Work]:
        assert row.ask == {"asked": 1}
        return "same", lambda run: "computed anew"

    assert look(orphan, again, 10).result == "computed anew"
    hold.set()


def test_a_run_is_not_run_again_on_another_case_than_it_was_asked_of(office: Any) -> None:
    hold = threading.Event()
    orphan = dead(begun(office, lambda run: str(hold.wait(10))))
    closed = look(orphan, lambda row: ("other", lambda run: "wrong"), 10)
    assert closed.state == "failed" and closed.error is not None
    assert "changed while this ran" in closed.error["message"]
    hold.set()


def test_a_cancelled_run_stays_cancelled_after_a_restart(office: Any) -> None:
    hold = threading.Event()
    job = begun(office, lambda run: str(hold.wait(10)))
    cancel(job)
    closed = look(dead(job), never, 0)
    assert closed.state == "cancelled" and closed.result == ""
    hold.set()


def test_two_who_look_at_once_start_it_once(office: Any) -> None:
    started = []
    job = Job.objects.create(
        practice=office.practice, kind="test", subject=1, by="x", ask={}, basis="same"
    )
    hold = threading.Event()

    def work(run: runs.Run) -> str:
        started.append(run)
        hold.wait(10)
        return "once"

    first, second = Job.objects.get(pk=job.pk), Job.objects.get(pk=job.pk)
    for row in (first, second):
        assert look(row, lambda row: ("same", work), 0).over is False
    hold.set()
    assert look(first, never, 10).result == "once"
    # The other one read the row before its end was written: it finds the end, and runs nothing.
    assert look(second, never, 0).result == "once"
    assert len(started) == 1


def test_input_errors_of_a_job_keep_their_field(office: Any) -> None:
    def work(run: runs.Run) -> str:
        raise InputError("mode", "is wrong")

    job = look(begun(office, work), never, 10)
    assert (job.state, job.error) == ("failed", {"field": "mode", "message": "is wrong"})


def test_an_unexpected_failure_is_said_plainly(
    office: Any, caplog: pytest.LogCaptureFixture
) -> None:
    def work(run: runs.Run) -> str:
        raise ZeroDivisionError

    job = look(begun(office, work), never, 10)
    assert job.state == "failed" and job.error is not None
    assert "nothing was changed" in job.error["message"]
    assert "a job failed" in caplog.text


def test_runs_nobody_looks_at_are_forgotten_and_their_rows_kept(
    office: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = begun(office, lambda run: "x")
    monkeypatch.setattr(runs, "KEEP_SECONDS", -1.0)
    begun(office, lambda run: "y")
    assert runs.find(job.pk) is None
    assert Job.objects.filter(pk=job.pk).exists()


def test_no_more_than_two_run_at_once(office: Any) -> None:
    gate, both, count = threading.Semaphore(0), threading.Semaphore(0), []

    def work(run: runs.Run) -> str:
        count.append(1)
        both.release()
        gate.acquire(timeout=10)
        count.pop()
        return ""

    jobs = [begun(office, work) for _ in range(5)]
    for _ in range(runs.AT_ONCE):
        assert both.acquire(timeout=10)
    assert len(count) == runs.AT_ONCE
    assert sum(look(job, never, 0).state == "waiting" for job in jobs) == 5 - runs.AT_ONCE
    for _ in jobs:
        gate.release()
    for job in jobs:
        look(job, never, 10)


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
    row.state, row.result, row.finished = Job.State.RUNNING, "", None
    row.save()
    runs.forget(row.pk)
    again = ended(office, office.get(f"formulations/{row.pk}"))
    amounts = [c["after"] for c in first["result"]["changes"]]
    assert amounts and [c["after"] for c in again["result"]["changes"]] == amounts


def test_a_formulation_of_a_case_that_changed_meanwhile_is_not_run_again(office: Any) -> None:
    path = f"recipes/{office.recipe.pk}/formulate"
    job = ended(office, office.send("post", path, ASK))["job"]
    Job.objects.filter(pk=job).update(state=Job.State.RUNNING, result="")
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


def test_a_process_that_ends_waits_for_what_it_computes(office: Any) -> None:
    """And what had not begun does not begin: a solver torn down at work would abort the process."""
    started, ended = threading.Event(), threading.Event()

    def work(run: runs.Run) -> str:
        started.set()
        assert run.cancelled.wait(10)
        ended.set()
        return "stopped"

    job = begun(office, work)
    assert started.wait(10)
    assert runs.stop_all(10) and ended.is_set()
    assert look(job, never, 10).result == "stopped"
