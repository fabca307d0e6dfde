"""Looking a thread and a fit up."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter


def test_a_thread_and_a_fit_are_looked_up(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    page.click("[data-test=account]")
    page.click("[data-test=to-reference]")
    limits = page.locator("[data-test=limits]")
    expect(limits).to_contain_text("+0.021 / 0")  # 25 H7/g6, ISO 286-2
    expect(limits).to_contain_text("clearance")
    page.fill("[data-test=class]", "H7/p6")
    expect(limits).to_contain_text("interference")
    page.fill("[data-test=class]", "H7/H7")
    expect(page.get_by_role("alert")).to_contain_text("is a hole's class")
    page.fill("[data-test=find]", "6.6")
    rows = page.locator("tbody tr")
    expect(rows.filter(has_text="M6")).to_have_count(1)  # 6.6 is its clearance hole, medium
    page.fill("[data-test=find]", "nothing")
    expect(page.get_by_text("Nothing in this table goes by that.")).to_be_visible()
    page.fill("[data-test=find]", "UNF")
    expect(page.get_by_text("other tables have it")).to_be_visible()
    page.click("[data-test=table]")
    page.get_by_role("option", name="Unified threads").click()
    expect(rows.filter(has_text="1/4-28 UNF")).to_contain_text("0.2113")  # minor diameter, ASME B1.1
    page.fill("[data-test=find]", "M10")
    page.click("[data-test=table]")
    page.get_by_role("option", name="Limits of metric threads").click()
    expect(rows.filter(has_text="M10-6g")).to_contain_text("8.862")  # least pitch diameter, ISO 965-2
