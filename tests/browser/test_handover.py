"""Records taken along as a file, and a client erased, in the real interface."""

import json
import re
import zipfile

from playwright.sync_api import Page, expect
from steps import enter, go_in, post


def test_all_records_are_written_and_downloaded(signed_in: Page) -> None:
    page = signed_in
    go_in(page, "Practice")
    page.get_by_role("link", name="Backups and disk").click()
    page.get_by_role("button", name="Write the file").click()
    link = page.get_by_role("link", name=re.compile("^Download it"))
    expect(link).to_be_visible()
    with page.expect_download() as download:
        link.click()
    with zipfile.ZipFile(download.value.path()) as pack:
        assert pack.testzip() is None
        said = json.loads(pack.read("manifest.json"))
        assert said["rows"]["case"] == len(pack.read("tables/case.jsonl").splitlines()) > 8
        papers = [n for n in pack.namelist() if n.endswith(".pdf")]
        assert papers and all(pack.read(n).startswith(b"%PDF") for n in papers)
    page.get_by_role("button", name="Delete it now").click()
    expect(page.get_by_role("button", name="Write the file")).to_be_visible()
    expect(link).to_have_count(0)


def test_a_client_is_taken_out_and_erased(signed_in: Page, demo: str) -> None:
    page = signed_in
    body = {"client_name": "Ottoline Sedge", "dog_name": "Wisp", "weight_kg": 7}
    made = post(page.request, demo, "cases", body).json()
    page.goto(f"{demo}/clients/{made['client']['id']}")
    with page.expect_download() as download:
        page.get_by_role("link", name="Download it as a file").click()
    assert download.value.suggested_filename == "ottoline-sedge.zip"
    page.get_by_role("button", name="Erase…").click()
    asked = page.get_by_role("dialog")
    expect(asked).to_contain_text("1 dog, 1 case")
    expect(asked).to_contain_text("It cannot be undone")
    asked.get_by_label("Why").fill("asked for by letter")
    asked.get_by_label("Type Ottoline Sedge").fill("Otto")
    asked.get_by_role("button", name="Erase for good").click()
    expect(asked.get_by_text("type the client's name as it stands there")).to_be_visible()
    asked.get_by_label("Type Ottoline Sedge").fill("Ottoline Sedge")
    asked.get_by_role("button", name="Erase for good").click()
    expect(page.get_by_role("heading", name="Cases")).to_be_visible()
    expect(page.get_by_text("Wisp")).to_have_count(0)
    page.goto(f"{demo}/audit")
    expect(page.get_by_text(re.compile("Erased a client.*asked for by letter"))).to_be_visible()


def test_only_an_owner_erases(page: Page, demo: str) -> None:
    enter(page.request, demo, "iris")
    page.goto(f"{demo}/clients/1")
    page.get_by_role("button", name="Erase…").click()
    expect(page.get_by_role("dialog")).to_contain_text("Only an owner of this practice does this.")
    # Other tests ask where iris is signed in.
    assert post(page.request, demo, "session/sign-out", {}).ok
