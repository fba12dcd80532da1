"""The page in a real browser: it answers, by keyboard too; nothing leaves; nobody is kept from reading it."""

import json
import os
import shutil
import tempfile
import unittest
from pathlib import Path
from typing import Any, ClassVar

from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from metrograph.demo import copy_demo
from tests.helpers import ROOT, call

NAMES = ("larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")
AXE = Path(os.environ.get("METROGRAPH_AXE", ROOT / "build/axe/node_modules/axe-core/axe.min.js"))
CHROMIUM, DRIVER = shutil.which("chromium"), shutil.which("chromedriver")


@unittest.skipUnless(CHROMIUM and DRIVER, "Chromium and its driver are not installed")
class Browser(unittest.TestCase):
    folder: ClassVar[tempfile.TemporaryDirectory[str]]
    driver: ClassVar[Any]

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        cls.addClassCleanup(cls.folder.cleanup)
        book = copy_demo(Path(cls.folder.name) / "demo")
        done = call("report", *NAMES, "-o", "page.html", folder=book.path)
        if done.returncode:
            raise AssertionError(done.stderr)
        options = webdriver.ChromeOptions()
        options.binary_location = CHROMIUM or ""
        for word in (
            "--headless=new",
            "--no-sandbox",
            "--disable-dev-shm-usage",
            f"--user-data-dir={cls.folder.name}/profile",
        ):
            options.add_argument(word)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
        cls.driver = webdriver.Chrome(options=options, service=webdriver.ChromeService(DRIVER))
        cls.addClassCleanup(cls.driver.quit)
        cls.page = (book.path / "page.html").as_uri()

    page: ClassVar[str]

    def setUp(self) -> None:
        self.driver.get(self.page)
        self.driver.execute_script("for (const each of document.querySelectorAll('details')) each.open = true")

    def all(self, selector: str) -> list[Any]:
        return list(self.driver.find_elements(By.CSS_SELECTOR, selector))

    def test_no_error_is_logged_and_nothing_is_asked_for(self) -> None:
        asked = [json.loads(entry["message"])["message"] for entry in self.driver.get_log("performance")]
        addresses = {
            each["params"]["request"]["url"].split(":")[0]
            for each in asked
            if each["method"] == "Network.requestWillBeSent"
        }
        self.assertLessEqual(addresses, {"file", "data", "chrome"})  # the last is the browser's own empty page
        self.assertEqual([entry for entry in self.driver.get_log("browser") if entry["level"] == "SEVERE"], [])

    def test_the_policy_holds_against_a_script_that_got_in(self) -> None:
        self.driver.execute_cdp_cmd("Page.enable", {})
        self.driver.execute_script(
            "const s = document.createElement('script'); s.textContent = 'window.harm = 1'; document.body.append(s);"
        )
        self.assertIsNone(self.driver.execute_script("return window.harm ?? null"))
        self.driver.execute_script("fetch('https://example.org/').catch(() => { window.refused = 1 })")
        self.assertEqual(
            self.driver.execute_async_script("setTimeout(() => arguments[0](window.refused ?? 0), 300)"), 1
        )

    def test_a_screen_that_is_reached_by_keyboard_is_shown_in_all_releases(self) -> None:
        first = self.all(".screen[data-first]")[0]
        self.driver.execute_script("arguments[0].focus()", first)
        self.driver.switch_to.active_element.send_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
        row = self.driver.switch_to.active_element.get_attribute("data-row")
        self.assertEqual(row, "3")
        self.assertEqual({each.get_attribute("data-row") for each in self.all(".chosen")}, {row})
        self.assertEqual(len(self.all(".screen.chosen")), 9)  # in eight runs, one of which has it twice
        said = self.driver.find_element(By.ID, "told").text
        self.assertIn("Language: 7.0 0:09 (language: English (US) → English (UK))", said)
        self.driver.switch_to.active_element.send_keys(Keys.ESCAPE)
        self.assertEqual((self.all(".chosen"), self.driver.find_element(By.ID, "told").text), ([], ""))

    def test_lanes_line_up_attempts_fold_and_the_baseline_chooses(self) -> None:
        Select(self.driver.find_element(By.ID, "line-up")).select_by_visible_text("copy")
        script = """return [...document.querySelectorAll('.lane')].map((lane) => {
            const place = JSON.parse(lane.dataset.phases).copy;
            const [, scale, move] = lane.querySelector('.moving').getAttribute('transform').match(/scale\\(([^ ]+) 1\\) translate\\(([^ ]+) 0\\)/);
            return Math.round((place + Number(move)) * Number(scale)); })"""
        self.assertEqual(len(set(self.driver.execute_script(script))), 1)
        self.driver.find_element(By.ID, "fold").click()
        self.assertFalse(any(each.is_displayed() for each in self.all(".attempt")))
        Select(self.driver.find_element(By.ID, "baseline")).select_by_visible_text("9.0 beta")
        shown = {
            each.get_attribute("data-pair").replace("\n", " ")
            for each in self.all("[data-pair]")
            if each.is_displayed()
        }
        self.assertEqual(shown, {"8.0 9.0 beta", "7.0 9.0 beta"})

    def test_tables_sort_both_ways(self) -> None:
        table = self.all("table:has(tr[data-row])")[0]
        button = table.find_elements(By.CSS_SELECTOR, "thead button")[3]
        times = """return [...arguments[0].tBodies[0].rows].map((row) => row.cells[3].dataset.value)
            .filter((value) => value !== undefined).map(Number)"""
        for order in (False, True):
            self.driver.execute_script("arguments[0].click()", button)
            found = self.driver.execute_script(times, table)
            self.assertGreater(len(found), 10)
            self.assertEqual(found, sorted(found, reverse=order))

    def test_it_fits_from_400_to_1600_and_can_be_read_without_scripts(self) -> None:
        for width in (400, 800, 1600):
            self.driver.execute_cdp_cmd(
                "Emulation.setDeviceMetricsOverride",
                {"width": width, "height": 800, "deviceScaleFactor": 1, "mobile": False},
            )
            self.assertLessEqual(self.driver.execute_script("return document.documentElement.scrollWidth"), width)
        self.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
        self.driver.execute_cdp_cmd("Emulation.setScriptExecutionDisabled", {"value": True})
        self.addCleanup(self.driver.execute_cdp_cmd, "Emulation.setScriptExecutionDisabled", {"value": False})
        self.driver.get(self.page)
        folded = self.all("details")
        self.assertGreater(len(folded), 5)
        for each in folded:
            self.assertFalse(each.find_element(By.CSS_SELECTOR, "section").is_displayed())
            each.find_element(By.TAG_NAME, "summary").click()
            self.assertTrue(each.find_element(By.CSS_SELECTOR, "section").is_displayed())
        text = self.driver.find_element(By.TAG_NAME, "main").text
        for words in (
            "8.0 takes 207 MiB more memory at rest than 7.0",
            "Where should it go?",
            "not retested",
            "to installed: 4:30 sooner",
        ):
            self.assertIn(words, text)
        self.assertNotIn("Line up at", text)

    @unittest.skipUnless(AXE.is_file(), "axe-core is not installed")
    def test_nobody_is_kept_from_reading_it(self) -> None:
        for scheme in ("light", "dark"):
            self.driver.execute_cdp_cmd(
                "Emulation.setEmulatedMedia", {"features": [{"name": "prefers-color-scheme", "value": scheme}]}
            )
            self.driver.execute_script(AXE.read_text())
            found = self.driver.execute_async_script("axe.run().then(arguments[0])")
            serious = [
                f"{each['id']}: {each['nodes'][0]['html'][:200]}"
                for each in found["violations"]
                if each["impact"] in {"serious", "critical"}
            ]
            self.assertEqual(serious, [], scheme)
            self.assertGreater(len(found["passes"]), 15)
