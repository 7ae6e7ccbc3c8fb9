"""On the machine: said, sent, stopped, gone on with, and shown to the customer."""

from playwright.sync_api import expect

from jigger.machines.line import panel
from tests.browser.conftest import Bench


def test_an_offline_plotter_is_said_and_the_job_sent_again(bench_alone: Bench) -> None:
    bench = bench_alone
    identity = bench.house.designs.create_plain("Heron")
    page = bench.page
    page.goto(f"{bench.address}/queue")
    plotter = page.locator(".machine", has=page.get_by_role("heading", name="Plotter"))
    plotter.get_by_role("button", name="Take offline").click()
    expect(plotter.locator(".machine-state")).to_have_text("offline")
    page.goto(f"{bench.address}/designs/{identity}/cut")
    page.get_by_text("Send to the plotter").click()
    page.wait_for_url("**/queue")
    expect(page.locator(".job-message")).to_contain_text("The machine does not answer")
    page.get_by_role("button", name="Take online").click()
    page.get_by_role("button", name="Send again").click()
    expect(page.get_by_text("Off the machine")).to_be_visible(timeout=60_000)
    _drawn_with_a_pen_and_then_cut(bench, identity)
    _stopped_on_the_table_and_gone_on(bench)
    _shown_to_the_customer_and_approved(bench, identity)


def _drawn_with_a_pen_and_then_cut(bench: Bench, identity: str) -> None:
    """Paper is asked for, then the material; each time the machine is told."""
    page = bench.page
    page.goto(f"{bench.address}/designs/{identity}/cut")
    page.get_by_text("Draw it with a pen first").click()
    page.wait_for_url("**/queue")
    waiting = page.locator(".job.lined-up")
    expect(waiting.locator(".job-message")).to_contain_text("Load paper, and the pen")
    waiting.get_by_role("button", name="It is loaded").click()
    page.get_by_role("link", name="Now cut it").click(timeout=60_000)
    expect(page.locator(".before-sending .look").first).to_contain_text("“Paper, with the pen” lies in it")
    page.get_by_text("Send to the plotter").click()
    page.wait_for_url("**/queue")
    waiting.get_by_role("button", name="It is loaded").click()
    expect(page.locator(".job.off-the-machine")).to_have_count(3, timeout=60_000)
    expect(page.locator(".machine-holds").first).to_have_text("Outdoor vinyl · knife")


def _stopped_on_the_table_and_gone_on(bench: Bench) -> None:
    page = bench.page
    plate = bench.house.designs.create("stencil-plate", {"text": "MOORINGS", "material": "mild-steel"})
    page.goto(f"{bench.address}/designs/{plate}/cut")
    panel(
        bench.house.queue.stations["plate-table"].front, "fault", more={"kind": "stick"}
    )  # by itself, after two lines
    page.get_by_text("Send to the plate table").click()
    page.wait_for_url("**/queue")
    expect(page.locator(".job.on-the-machine .share")).to_contain_text("line 3 of", timeout=60_000)
    page.get_by_role("button", name="Stop").click()
    stopped = page.locator(".job.stopped", has_text="MOORINGS")
    expect(stopped).to_contain_text("lines are done")
    panel(bench.house.queue.stations["plate-table"].front, "resume")
    stopped.get_by_role("button", name="Go on from there").click()
    expect(page.locator(".job.off-the-machine", has_text="from line")).to_contain_text(
        "lies on the path", timeout=60_000
    )


def _shown_to_the_customer_and_approved(bench: Bench, identity: str) -> None:
    page = bench.page
    page.goto(f"{bench.address}/designs/{identity}/cut")
    page.get_by_role("link", name="Proof for the customer").click()
    page.get_by_role("button", name="Give a link").click()
    link = page.locator("#proof-link").input_value()
    page.goto(link)
    page.get_by_label("Your name").fill("Ada of the Withy")
    page.get_by_role("button", name="approve it").click()
    expect(page.locator(".approved")).to_contain_text("Approved by Ada of the Withy")
    page.goto(f"{bench.address}/designs/{identity}/proof")
    expect(page.locator(".verdict-line")).to_contain_text("Approved by Ada of the Withy, version 1")
    page.get_by_role("button", name="Withdraw it").click()
    expect(page.get_by_role("button", name="Give a link")).to_be_visible()
    page.goto(link)
    expect(page.locator(".gone")).to_contain_text("withdrawn")
