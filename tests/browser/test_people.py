"""An owner invites somebody, who joins by the link, draws along, and changes their password."""

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter


def test_somebody_is_invited_joins_and_is_taken_out_again(
    page: Page, browser: Browser, server: Server
) -> None:
    owner = Drafter(page, server)
    owner.log_in()
    page.click("[data-test=account]")
    page.click("[data-test=to-people]")
    page.fill("[data-test=guest]", "I. Garth")
    page.click("[data-test=invite-now]")
    address = page.locator("[data-test=link] code").inner_text()
    assert address.startswith(f"{server.url}/join/")

    page.locator("[data-person=fell]").get_by_role("button", name="Leave").click()
    page.locator(".el-popconfirm").get_by_role("button", name="Leave").click()
    expect(page.locator("section").get_by_role("alert")).to_contain_text("only owner of the workspace")

    theirs = browser.new_context()
    guest = theirs.new_page()
    guest.set_default_timeout(60_000)
    guest.goto(address)
    expect(guest.get_by_text("You are invited to work at Harrow Beck Millworks.")).to_be_visible()
    expect(guest.locator("input[name=name]")).to_have_value("I. Garth")
    guest.fill("input[name=username]", "garth")
    guest.fill("input[name=password]", "short")
    guest.get_by_role("button", name="Join", exact=True).click()
    expect(guest.get_by_role("alert")).to_contain_text("too short")
    guest.fill("input[name=password]", "heather on the tops")
    guest.get_by_role("button", name="Join", exact=True).click()
    expect(guest.get_by_role("heading", name="Shelf")).to_be_visible()
    expect(guest.locator("[data-test=drawing-card]").first).to_be_visible()

    guest.goto(f"{server.url}/people")
    expect(guest.locator("[data-person=garth]")).to_contain_text("you")
    expect(guest.locator("[data-test=invite]")).to_have_count(0)
    guest.fill("[data-test=password-old]", "not that")
    guest.fill("[data-test=password-new]", "bracken in the rain")
    guest.click("[data-test=password-change]")
    expect(guest.get_by_role("alert")).to_have_text("That is not your password of now.")
    guest.fill("[data-test=password-old]", "heather on the tops")
    guest.click("[data-test=password-change]")
    expect(guest.get_by_role("status")).to_contain_text("Your password is changed")
    guest.click("[data-test=account]")
    guest.click("[data-test=log-out]")
    guest.fill("input[name=username]", "garth")
    guest.fill("input[name=password]", "bracken in the rain")
    guest.keyboard.press("Enter")
    expect(guest.get_by_role("heading", name="Shelf")).to_be_visible()

    page.reload()
    row = page.locator("[data-person=garth]")
    row.get_by_role("button", name="Take out").click()
    page.locator(".el-popconfirm").get_by_role("button", name="Take out").click()
    expect(row).to_have_count(0)
    guest.reload()
    expect(guest.get_by_text("You belong to no workspace.")).to_be_visible()
    guest.goto(address)
    expect(guest.get_by_role("alert")).to_contain_text("This link has been used")
    theirs.close()
