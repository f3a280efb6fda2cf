"""Proved as a person does it: a leak test over a closed tablet, a change that is kept and one that is put back, a card for the visor."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job


class Proving(BrowserCase):
    def test_a_leak_test_over_a_reload(self) -> None:
        """A temperature without its unit is asked about with all that was typed kept; the clock goes on over a closed page, on another tablet too."""
        self.expected_trouble = ("422",)
        job = Job.objects.get(number="2026-046")
        page = self.sign_in("jude")
        page.goto(f"/jobs/{job.pk}/prove/leak/")
        page.get_by_label("Which").select_option("right")
        page.get_by_label("Pressed up to").fill("3")
        page.get_by_label("Temperature, with its unit").first.fill("18")
        page.get_by_role("button", name="Pressed up: begin").click()
        expect(page.locator(".error").first).to_contain_text("is that °C or °F")
        expect(page.get_by_label("Pressed up to")).to_have_value("3")
        page.get_by_label("Temperature, with its unit").first.fill("18 C")
        with self.anew(page):
            page.get_by_role("button", name="Pressed up: begin").click()
        expect(page.locator(".leak")).to_contain_text("Wait: a tight bag can be told")
        page.close()
        other = self.sign_in("tobin")
        other.goto(f"/jobs/{job.pk}/prove/leak/")
        expect(other.locator(".leak h3")).to_contain_text("Right: 44 psi at 64 °F")
        other.get_by_label("Reads now").fill("30 psi")
        other.locator(".leak").get_by_label("Temperature, with its unit").fill("64 F")
        other.locator(".leak").get_by_label("Bubbles, where").fill("at the upper fitting")
        with self.anew(other):
            other.get_by_role("button", name="Read again").click()
        expect(other.locator(".leak .finding")).to_contain_text("Bubbles: at the upper fitting. Let the air out first")
        expect(other.locator("#verdict")).to_contain_text("The right bag leaks")

    def test_one_change_kept_and_one_put_back(self) -> None:
        """Set anew, driven, worse: put back, the setting with it; set again, better: kept. The sheet compares what is alike; the card opens as paper."""
        job = Job.objects.get(number="2026-039")
        page = self.sign_in("marit")
        before = Fitting.objects.get(job=job).setting["pressure_pa"]
        for bar, button in (("3.4", "Put it back"), ("2.6", "Keep it")):
            page.goto(f"/jobs/{job.pk}/set/")
            page.locator("#id_left_pressure_pa").fill(bar)
            page.locator("#id_right_pressure_pa").fill(bar)
            with self.anew(page):
                page.get_by_role("button", name="Save the setting").click()
            page.goto(f"/jobs/{job.pk}/prove/drive/")
            page.get_by_label("Driven", exact=True).select_option("after")
            page.get_by_label("Course", exact=True).select_option("bump")
            page.get_by_label("Speed held").fill("20")
            page.get_by_label("Load", exact=True).select_option(label="Glider trailer")
            self.unfold(page, "More: what else was felt")
            self.grade(page, "Harsh", "poor" if bar == "3.4" else "fine")
            self.grade(page, "Bottoms", "fine")
            with self.anew(page):
                page.get_by_role("button", name="Put it on the sheet").click()
            loop = page.locator(".loop").first
            loop.get_by_label("It is").select_option("worse" if bar == "3.4" else "better")
            with self.anew(page):
                loop.get_by_role("button", name=button).click()
            if bar == "3.4":
                self.assertEqual(
                    [round(p) for p in Fitting.objects.get(job=job).setting["pressure_pa"]], [round(p) for p in before]
                )
        loops = Desk.look(job.pk).job.proving.loops
        self.assertEqual([(one.outcome, one.stays) for one in loops], [("worse", "put_back"), ("better", "kept")])
        expect(
            page.get_by_role("row", name="Bottoms single bump, both wheels, technician marginal fine better")
        ).to_be_visible()
        page.goto(f"/jobs/{job.pk}/set/")
        page.get_by_role("link", name="Pressure card").click()
        expect(page.locator(".pressure-card")).to_contain_text("bar")
        answer = page.request.get(page.get_by_role("link", name="For the sun visor").get_attribute("href") or "")
        self.assertEqual(answer.headers["content-type"], "application/pdf")

    def test_set_on_the_close_up(self) -> None:
        """The handle of a bag dragged up, then moved by keys: slider, heights and drawing follow at once, and nothing is stored by it."""
        job = Job.objects.get(number="2026-039")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/set/")
        stored = Fitting.objects.get(job=job).setting
        handle, slider = page.locator("[data-handle=left_pressure_pa]"), page.locator("#s-left_pressure_pa")
        before, told = float(slider.input_value()), page.locator("#trial").inner_text()
        self.drag(handle, 0, -40)
        expect(page.locator("#trial")).not_to_have_text(told)
        dragged = float(slider.input_value())
        self.assertGreater(dragged, before)
        page.wait_for_load_state(
            "networkidle"
        )  # the drag's own answers are in: the handle is not taken from under the key
        with page.expect_response(lambda r: "/trial/" in r.url):
            page.locator("[data-handle=left_pressure_pa]").press("ArrowDown")
        self.assertLess(float(slider.input_value()), dragged)
        bar = f"{float(slider.input_value()) / 1e5:.2f}"
        expect(page.locator(".close-up")).to_contain_text(f"{bar} bar")
        handle.hover(force=True)
        page.locator("[data-handle=left_pressure_pa]").focus()
        self.assertEqual(Fitting.objects.get(job=job).setting, stored)
        page.goto(f"/jobs/{job.pk}/measure/?view=axle&state=empty")
        expect(page.locator(".close-up")).to_contain_text("main spring")
        expect(page.locator(".close-up .handle")).to_have_count(0)
        page.goto(f"/jobs/{job.pk}/measure/?view=side")

    def test_settled_before_it_counts(self) -> None:
        """Lifted just now: what is read is marked until it is rolled and bounced; the minute goes on over a reload; three readings that drift are marked."""
        job = Job.objects.get(number="2026-039")
        page = self.sign_in("tobin")
        page.goto(f"/jobs/{job.pk}/prove/")
        page.locator(".settle summary").click()
        with self.anew(page):
            page.get_by_role("button", name="It was lifted just now").click()
        page.get_by_role("button", name="Start the minute").click()
        expect(page.locator("[data-settle] output")).to_contain_text(" s")
        page.reload()
        expect(page.locator("[data-settle] output")).to_contain_text(" s")
        cell = page.locator("form[data-cell] input[name=text]").first
        standing = cell.input_value()
        cell.fill(standing.replace(" in", "") + " in" if "in" not in standing else standing)
        cell.fill("700 mm")
        cell.press("Enter")
        expect(page.locator(".cell-say").first).to_contain_text("not settled: read after lifting")
        with self.anew(page):
            page.get_by_role("button", name="Rolled and bounced: settled").click()
        cell = page.locator("form[data-cell] input[name=text]").first
        cell.fill("704 mm; 702 mm; 700 mm")
        cell.press("Enter")
        expect(page.locator(".cell-say").first).to_contain_text("it drifts one way")
        cell = page.locator("form[data-cell] input[name=text]").first
        cell.fill("701 mm; 702 mm; 700 mm")
        cell.press("Enter")
        expect(page.locator(".cell-say").first).to_contain_text("3 times")
        expect(page.locator(".cell-say").first).not_to_contain_text("not settled")

    def test_two_films_beside_each_other(self) -> None:
        """Two films of the device's own start together where each was marked; what is no film is refused in words; nothing is sent."""
        job = Job.objects.get(number="2026-039")
        page = self.sign_in("marit")
        page.goto(f"/jobs/{job.pk}/prove/films/")
        made = page.evaluate(FILM)
        sent: list[str] = []
        page.on("request", lambda r: sent.append(r.url) if r.method == "POST" else None)
        film = {"name": "before.webm", "mimeType": "video/webm", "buffer": bytes(made)}
        page.locator("#film-before").set_input_files(film)
        page.locator("#film-after").set_input_files(
            {"name": "notes.txt", "mimeType": "text/plain", "buffer": b"no film"}
        )
        expect(page.locator("[data-film=after] .error")).to_contain_text("notes.txt is neither a film nor a picture")
        page.locator("#film-after").set_input_files({**film, "name": "after.webm"})
        expect(page.locator("[data-film=after] video")).to_be_visible()
        for _ in range(3):
            page.locator("[data-film=after]").get_by_role("button", name="A picture on").click()
        page.locator("[data-film=after]").get_by_role("button", name="Starts here").click()
        expect(page.locator("[data-film=after] output")).not_to_contain_text("starts at 0.00 s")
        page.get_by_role("button", name="Play both from their start").click()
        page.wait_for_function("[...document.querySelectorAll('video')].every((v) => v.currentTime > 0)")
        self.assertEqual(sent, [])


FILM = """async () => {
  const canvas = document.createElement("canvas"); canvas.width = 64; canvas.height = 48;
  const pen = canvas.getContext("2d"), parts = [], film = new MediaRecorder(canvas.captureStream(25), { mimeType: "video/webm" });
  film.ondataavailable = (event) => parts.push(event.data);
  const done = new Promise((resolve) => { film.onstop = resolve; });
  film.start();
  for (let n = 0; n < 30; n++) { pen.fillStyle = `rgb(${n * 8}, 90, 60)`; pen.fillRect(0, 0, 64, 48); await new Promise((next) => setTimeout(next, 40)); }
  film.stop(); await done;
  return [...new Uint8Array(await new Blob(parts).arrayBuffer())];
}"""
