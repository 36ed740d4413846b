"""The plug is pulled while people work: what was acknowledged is there afterwards. Longer: ./wainscot soak."""

import resource
import shutil
from pathlib import Path
from typing import Any

import pytest
from keeping.folder import DATABASE, check_database
from wainscot_cli.soak import Caller, Server, soak


@pytest.fixture
def data(tmp_path: Path, demo_data: Path) -> Path:
    return Path(shutil.copytree(demo_data, tmp_path / "data"))


def test_nothing_acknowledged_is_lost(data: Path) -> None:
    done = soak(data, kills=4, seed=3)
    assert (done.kills, done.lost, done.refused) == (4, [], [])
    assert done.acknowledged >= 12


def put_down(caller: Caller, case: int, key: str) -> tuple[int, Any]:
    entry = {"date": "2026-01-02", "note": key + " x" * 140}
    return caller.send("POST", f"cases/{case}/follow-entries", {"key": key, "entry": entry})


def test_a_full_disk_is_said_and_loses_nothing(data: Path) -> None:
    """No file of the server may grow past what the records take already, as on a disk without room."""
    room = (data / DATABASE).stat().st_size + 200_000

    def no_room() -> None:
        resource.setrlimit(resource.RLIMIT_FSIZE, (room, room))

    server = Server(data)
    server.start(no_room)
    kept: list[str] = []
    try:
        caller = Caller(server.address)
        case = caller.send("GET", "cases")[1]["rows"][0]["id"]
        status, said = 201, None
        for n in range(2000):
            status, said = put_down(caller, case, f"full-disk-{n:05d}")
            if status != 201:
                break
            kept.append(f"full-disk-{n:05d}")
        assert status == 503, said
        assert "disk of this installation is full" in said["error"]["message"]
        assert len(kept) > 3
    finally:
        server.kill()
    check_database(data / DATABASE)
    server.start()
    try:
        caller = Caller(server.address)
        text = str(caller.send("GET", f"cases/{case}/follow")[1])
        assert [key for key in kept if key not in text] == []
        assert put_down(caller, case, "there-is-room-again")[0] == 201
    finally:
        server.kill()
