"""Several sites: one is made beside the demo, set up, filled, published, seen under its own name, and put away."""

import re
import zipfile
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import expect

from .conftest import go

PAGE = "<!doctype html><title>{0}</title><body><main><h1>{0}</h1><p>Boats to the <a href='index.html'>skerries</a>.</p><img src='boat.svg' alt='A boat'></main>"


def test_a_second_site_is_made_filled_published_and_put_away(page, public, tmp_path):
    page.get_by_role("button", name="Sites", exact=True).click()
    page.get_by_role("link", name="All sites, and a new one").click()
    page.get_by_label("Name of the site").fill("Skerry Line")
    page.get_by_label("Short name").fill("skerry")
    page.get_by_role("button", name="Make the site").click()
    expect(page.get_by_role("heading", name="Skerry Line", level=1)).to_be_visible()
    what = page.get_by_role("region", name="What the site is")
    what.get_by_label("Time zone").fill("Europe/Oslo")
    what.get_by_label("Language").fill("Norwegian!")
    page.get_by_role("button", name="Save site").click()
    expect(what.get_by_role("alert")).to_have_text("write it as a language tag (BCP 47): en, nb, pt-BR")
    what.get_by_label("Language").fill("nb")
    page.get_by_role("button", name="Save site").click()
    expect(page.get_by_text("Saved what the site is. It is in the draft, not live yet.")).to_be_visible()
    for name, title in (("index", "Skerry"), ("outer", "Outer skerries")):
        (tmp_path / f"{name}.html").write_text(PAGE.format(title))
    (tmp_path / "boat.svg").write_text('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>')
    page.get_by_label("Folder of HTML files").set_input_files(tmp_path)
    report = page.get_by_role("status").filter(has_text="2 added")
    expect(report).to_contain_text("1 other file with them.")
    page.get_by_role("link", name=re.compile("^Publish")).click()
    page.get_by_role("button", name=re.compile("^Publish")).click()
    expect(page.get_by_text("Revision 1 is live")).to_be_visible()
    port = urlsplit(public("/about").url).port
    window = page.context.new_page()
    window.goto(f"http://skerry.localhost:{port}/outer")
    assert window.url.endswith("/outer.html")
    assert window.get_by_role("img", name="A boat").evaluate("one => one.naturalWidth") == 9
    expect(window.get_by_role("heading", name="Outer skerries")).to_be_visible()
    assert window.locator("html").get_attribute("lang") == "nb"
    assert public("/outer").get_by_text("Boats to the skerries").count() == 0
    # The newer pages come as one archive, looked at first; a table of facts does not come over pages with files.
    with zipfile.ZipFile(tmp_path / "newer.zip", "w") as archive:
        for name, title in (("index", "Skerry"), ("inner", "Inner skerries")):
            archive.writestr(f"site/{name}.html", PAGE.format(title))
    (tmp_path / "pages.csv").write_text("path,title\n/table,Table\n")
    go(page, "/skerry/site")
    one_file = page.get_by_label("Archive, WARC file or table")
    one_file.set_input_files(tmp_path / "pages.csv")
    expect(page.get_by_role("region", name="Take pages in").get_by_role("alert")).to_contain_text("facts alone")
    one_file.set_input_files(tmp_path / "newer.zip")
    coming = page.get_by_role("region", name="What would come of it")
    expect(coming).to_contain_text("1 added, 0 updated, 1 as they were, 0 back again, 1 gone")
    coming.get_by_role("button", name="Take it in").click()
    expect(page.get_by_role("region", name="Take pages in").get_by_role("status")).to_contain_text("1 added")
    # Away: nobody gets it, and it comes back as it was.
    go(page, "/_sites")
    page.get_by_role("button", name="Put Skerry Line away").click()
    expect(page.get_by_role("region", name="Put away").get_by_role("link", name="Skerry Line")).to_be_visible()
    assert window.goto(f"http://skerry.localhost:{port}/outer").status == 404
    page.get_by_role("button", name="Bring Skerry Line back").click()
    expect(page.get_by_role("region", name="Put away")).to_have_count(0)
    assert window.goto(f"http://skerry.localhost:{port}/outer").status == 200


@pytest.mark.elsewhere
def test_a_site_is_read_from_its_address_stopped_and_gone_on_with(page, served):
    go(page, "/_sites")
    page.get_by_label("Name of the site").fill("Ferries again")
    page.get_by_label("Short name").fill("again")
    page.get_by_role("button", name="Make the site").click()
    expect(page.get_by_role("heading", name="Ferries again", level=1)).to_be_visible()
    taking = page.get_by_role("region", name="Take pages in")
    address = taking.get_by_label("Address of the site")
    address.fill("http://127.0.0.1:22/")
    taking.get_by_role("button", name="Read it from there").click()
    expect(taking.get_by_role("alert")).to_contain_text("it is asked for at the usual ports, 80 and 443")
    address.fill(served.published)
    taking.get_by_role("button", name="Read it from there").click()
    expect(taking.get_by_role("status")).to_contain_text(re.compile(r"[1-9]\d* addresses asked, [1-9]\d* to go"))
    taking.get_by_role("button", name="Stop").click()
    expect(taking.get_by_role("status")).to_have_text("Stopped. The site is as it was.")
    page.reload()
    halfway = taking.get_by_role("region", name="Stopped halfway")
    expect(halfway).to_contain_text(f"{served.published}/")
    halfway.get_by_role("button", name="Go on").click()
    expect(taking.get_by_role("status")).to_contain_text("113 pages: 113 added", timeout=60_000)
    expect(halfway).to_have_count(0)
    page.get_by_role("link", name="Pages", exact=True).click()
    expect(page.get_by_label("Pick About us", exact=True)).to_be_visible()
    expect(page.get_by_role("button", name=f"Undo: Site: address {served.published}")).to_be_visible()
