"""Whose turn it is among practices that ask for the same few places."""

from collections import Counter

from hypothesis import given
from hypothesis import strategies as st
from jobs.fair import FairQueue


def test_practices_take_turns_however_much_one_of_them_asked_for() -> None:
    queue: FairQueue[str] = FairQueue(at_once=1, each=1)
    for work in "abc":
        queue.put(1, work)
    queue.put(2, "x")
    queue.put(3, "y")
    order = []
    while (taken := queue.take()) is not None:
        order.append(taken[1])
        queue.done(taken[0])
    assert order == ["a", "x", "y", "b", "c"]


def test_what_left_the_line_does_not_run() -> None:
    queue: FairQueue[str] = FairQueue(at_once=2, each=2)
    queue.put(1, "a")
    queue.put(1, "b")
    assert queue.drop(1, "a") and not queue.drop(1, "a")
    assert (queue.waiting(1), queue.take(), queue.take()) == (1, (1, "b"), None)


@given(
    st.integers(1, 4), st.integers(1, 3),
    st.lists(st.one_of(st.integers(1, 4), st.just("take"), st.just("done")), max_size=80),
)  # fmt: skip
def test_nothing_is_lost_nobody_waits_beside_a_free_place_of_his(
    at_once: int, each: int, steps: list[int | str]
) -> None:
    queue: FairQueue[int] = FairQueue(at_once, each)
    asked: Counter[int] = Counter()
    running: list[int] = []
    ran: dict[int, list[int]] = {}
    for step in steps:
        if isinstance(step, int):
            queue.put(step, asked[step])
            asked[step] += 1
        elif step == "done" and running:
            queue.done(running.pop(0))
        elif step == "take":
            taken = queue.take()
            if taken is None:
                free = len(running) < at_once
                assert not any(queue.waiting(p) and running.count(p) < each and free for p in asked)
                continue
            running.append(taken[0])
            ran.setdefault(taken[0], []).append(taken[1])
        assert len(running) <= at_once and max(Counter(running).values(), default=0) <= each
    for practice, count in asked.items():
        # In the order they were asked for, each once.
        assert ran.get(practice, []) == list(range(count - queue.waiting(practice)))
