"""Nothing that was typed on a screen, and nobody's name, passes the gate: in eight languages, with drawn fields and without."""

import json
import tempfile
import unittest
from pathlib import Path

import msgspec
import numpy as np

from metrograph.log.lexicon import load_lexicon
from metrograph.watch.drafts.looks import look_of
from metrograph.watch.drafts.scanning import Scan
from metrograph.watch.pages.page import Page, Text
from metrograph.watch.pages.page_gate import HIDDEN, PageGate
from metrograph.watch.pages.pictures import picture_of
from metrograph.watch.pages.watching import FoundPage
from metrograph.watch.reading.words import button_of

LEXICON = load_lexicon()
USER, HOST, PASSWORD, PHRASE = "zanzibarino", "quokkabox", "Zhunter2pass", "wombat#Vault7"
KEY, MAIL, ADDRESS, NEIGHBOUR = (
    "XK4TQ-9QPLM-22ABC-77XYZ-QQ4RT",
    "zanzi@quokka.example",
    "192.168.77.41",
    "NeighbourNet24",
)
PLANTED = (USER, HOST, PASSWORD, PHRASE, KEY, MAIL, ADDRESS, NEIGHBOUR)

# For each language: a title with labels for user, password and host; one for networks; one of a summary.
WORDS = {
    "eng": ("Create your account", "User name", "Password", "Host name", "Wireless network", "Summary"),
    "deu": ("Benutzer anlegen", "Benutzername", "Passwort", "Rechnername", "Netzwerk", "Zusammenfassung"),
    "fra": ("Créer un compte", "Nom d'utilisateur", "Mot de passe", "Nom d'hôte", "Réseau", "Résumé"),
    "spa": ("Crear usuario", "Nombre de usuario", "Contraseña", "Nombre del equipo", "Red", "Resumen"),
    "ita": ("Crea utente", "Nome utente", "Parola chiave", "Nome del computer", "Rete", "Riepilogo"),
    "por": ("Criar utilizador", "Nome de utilizador", "Palavra-passe", "Nome do computador", "Rede", "Resumo"),
    "nld": ("Gebruiker aanmaken", "Gebruikersnaam", "Wachtwoord", "Computernaam", "Netwerk", "Samenvatting"),
    "pol": ("Utwórz użytkownika", "Nazwa użytkownika", "Hasło", "Nazwa komputera", "Sieć", "Podsumowanie"),
}


def line(text: str, left: int, top: int, tall: int = 12, field: bool = False) -> Text:
    wide = len(text) * tall * 2 // 3
    return Text(left, top, left + wide, top + round(tall * 1.3), text, 0.95, False, 240, tall, 200, button_of(text), field=field)  # fmt: skip


def form(title: str, rows: list[tuple[str, str]], boxed: bool, joined: bool = False, number: int = 0) -> Page:
    """A page of labels with values: beside them, or as one line where the two were read together."""
    texts = [line(title, 60, 30, 20)]
    for place, (label, value) in enumerate(rows):
        top = 100 + 40 * place
        texts += (
            [line(f"{label}  {value}", 60, top)]
            if joined
            else [line(label, 60, top), line(value, 300, top, field=boxed)]
        )
    texts.append(line("Next", 560, 360))
    return Page(number * 5000, number * 5000 + 1000, (640, 400), tuple(texts), number=number)


def said(title: str, *lines: str, number: int = 0) -> Page:
    """A page with a title and lines below it."""
    texts = [line(title, 60, 30, 20), *(line(text, 60, 100 + 30 * at) for at, text in enumerate(lines))]
    return Page(number * 5000, number * 5000 + 1000, (640, 400), (*texts, line("Next", 560, 360)), number=number)


def pages_of(language: str, boxed: bool, joined: bool = False) -> list[Page]:
    title, user, password, host, network, summary = WORDS[language]
    rows = [(user, USER), (password, PASSWORD), (host, HOST)]
    return [
        form(title, rows, boxed, joined, 0),
        said(network, NEIGHBOUR, "OtherNet5", number=1),
        form(summary, [*rows, ("Disk", "25 GiB"), (password, PHRASE)], boxed, joined, 2),
        said("Copying files", f"Welcome, {USER.title()}!", f"Setting up {HOST}", MAIL, f"eth0 {ADDRESS}", number=3),
        said("Recovery", KEY, number=4),
    ]


class Gate(unittest.TestCase):
    def kept(self, *pages: Page) -> list[Page]:
        """What is kept of pages, by whatever way: in memory, in the cache, as looks."""
        with tempfile.TemporaryDirectory() as folder:
            scan = Scan(LEXICON, Path(folder))
            kept = list(scan.take(FoundPage(page, None) for page in pages))
            written = b"".join(path.read_bytes() for path in Path(folder).rglob("*") if path.is_file()).decode()
        looks = json.dumps(msgspec.to_builtins([look_of(page, "x", "other") for page in kept]), ensure_ascii=False)
        for value in PLANTED:
            for place in (written, looks, *(text.text for page in kept for text in page.texts)):
                self.assertNotIn(value.casefold(), place.casefold())
        return kept

    def test_nothing_planted_passes_in_any_language(self) -> None:
        for language in WORDS:
            for boxed, joined in ((True, False), (False, False), (False, True)):
                with self.subTest(language, boxed=boxed, joined=joined):
                    kept = self.kept(*pages_of(language, boxed, joined))
                    # Titles and buttons are what the pages are known by.
                    for page, whole in zip(kept, pages_of(language, boxed, joined), strict=True):
                        self.assertEqual((page.texts[0].text, page.texts[-1].text), (whole.texts[0].text, "Next"))

    def test_labels_stay_and_so_does_what_is_nobodys(self) -> None:
        account = form("Create your account", [("User name", USER), ("Password", PASSWORD)], boxed=True)
        disk = said("Where should it go?", "Erase the disk", "25 GiB, nothing on it", "Install beside it", number=1)
        first, second = self.kept(account, disk)
        self.assertEqual(
            [text.text for text in first.texts], ["Create your account", "User name", "", "Password", "", "Next"]
        )
        self.assertEqual(second, disk)

    def test_sentences_of_installers_stay_whole_but_for_names(self) -> None:
        account = form("Create your account", [("User name", USER), ("Password", PASSWORD)], boxed=True)
        wrong = line("The two passwords do not match.", 60, 260)
        taken = line(f"The name {USER} is not allowed, nor is Quokka7.", 60, 290)
        asked = said("Backups", "Where should your files be kept twice?", KEY, KEY.replace("-", " "), number=1)
        page, other = self.kept(msgspec.structs.replace(account, texts=(*account.texts, wrong, taken)), asked)
        self.assertEqual(
            [text.text for text in page.texts[-2:]],
            ["The two passwords do not match.", f"The name {HIDDEN} is not allowed, nor is {HIDDEN}."],
        )
        self.assertEqual(
            [text.text for text in other.texts[1:4]], ["Where should your files be kept twice?", HIDDEN, HIDDEN]
        )

    def test_what_has_no_label_on_a_private_page_is_held_back(self) -> None:
        (page,) = self.kept(
            said("Summary", "Bench street 5", "Please read all of this with care before you go on, Ann")
        )
        self.assertEqual(page.texts[1].text, "")
        self.assertNotIn("Ann", page.texts[2].text)

    def test_a_label_with_its_value_keeps_the_label(self) -> None:
        (page,) = self.kept(
            form("Create your account", [("Password", PASSWORD), ("User name:", USER)], False, joined=True)
        )
        self.assertEqual([text.text for text in page.texts][1:3], [f"Password  {HIDDEN}", f"User name: {HIDDEN}"])

    def test_a_label_with_letters_read_wrongly_is_a_label(self) -> None:
        """By itself on a page whose heading says nothing: then nothing else tells that somebody is asked for."""
        for label in ("Benutzemame", "Rechnemame", "Cornputernaam"):
            with self.subTest(label):
                (page,) = self.kept(form("Almost there", [(label, USER)], boxed=False))
                self.assertEqual([text.text for text in page.texts][2], "")

    def test_a_value_is_no_title_where_its_label_cannot_be_read(self) -> None:
        for label in ("§ 4 ww", "Qvtz"):
            account = form("Create your account", [(label, USER), ("Password", PASSWORD)], boxed=False)
            likely = [account.texts[0], account.texts[2]]
            passed = PageGate(LEXICON).passed(account, likely)
            self.assertEqual([text.text for text in passed.page.texts][::2], ["Create your account", "", ""])

    def test_what_was_typed_is_known_on_later_pages_even_misread(self) -> None:
        account = form("Create your account", [("User name", "Marguerite")], boxed=True)
        later = said("Copying files", "Hello Margueritc, this takes a while", number=1)
        _, page = self.kept(account, later)
        self.assertEqual(page.texts[1].text, f"Hello {HIDDEN}, this takes a while")

    def test_a_scan_that_goes_on_reads_again_from_where_something_was_typed(self) -> None:
        pages = pages_of("eng", boxed=True)
        plain = said("Language", "English", "Deutsch")
        with tempfile.TemporaryDirectory() as folder:
            list(Scan(LEXICON, Path(folder)).take(FoundPage(page, None) for page in (plain, *pages)))
            self.assertEqual([page.texts[0].text for page in Scan(LEXICON, Path(folder)).pages], ["Language"])

    def test_of_a_private_page_a_picture_has_title_labels_and_buttons_alone(self) -> None:
        account = form("Create your account", [("User name", USER), ("Password", PASSWORD)], boxed=False)
        unread = (420, 200)  # something that nobody could read
        white = np.full((400, 640, 3), 240, np.uint8)
        for text in account.texts:
            white[text.top : text.bottom, text.left : text.right] = 0
        white[unread[1] : unread[1] + 20, unread[0] : unread[0] + 90] = 0
        passed = PageGate(LEXICON).passed(account, list(account.texts[:1]))
        assert passed.blanking is not None
        shown = _decoded(picture_of(white, passed.blanking))
        dark = [
            float((shown[text.top : text.bottom, text.left : text.right] < 128).mean()) > 0.5 for text in account.texts
        ]
        self.assertEqual(dark, [True, True, False, True, False, True])
        self.assertGreater(int(shown[unread[1] : unread[1] + 20, unread[0] : unread[0] + 90].min()), 128)

    def test_elsewhere_a_line_that_looks_private_is_blanked_whole_with_a_margin(self) -> None:
        page = said("Copying files", f"eth0 has the address {ADDRESS} for now", "Unpacking the base system")
        white = np.full((400, 640, 3), 240, np.uint8)
        for text in page.texts:
            white[text.top - 4 : text.bottom + 4, text.left - 4 : text.right + 4] = 0
        passed = PageGate(LEXICON).passed(page, list(page.texts[:1]))
        assert passed.blanking is not None
        shown = _decoded(picture_of(white, passed.blanking))
        private, other = page.texts[1:3]
        # One shade, whichever it is, has no letters in it.
        self.assertLess(
            int(np.ptp(shown[private.top - 3 : private.bottom + 3, private.left - 3 : private.right + 3])), 24
        )
        self.assertLess(int(shown[other.top : other.bottom, other.left : other.right].max()), 128)

    def test_a_private_page_of_which_nothing_can_be_told_apart_has_no_picture(self) -> None:
        text = line("User name", 60, 100)
        page = Page(0, 0, (640, 400), (msgspec.structs.replace(text, text=""), line(USER, 60, 140, field=True)))
        gate = PageGate(LEXICON)
        self.assertIsNone(gate.passed(page, [line("Account", 0, 0)]).blanking)


def _decoded(picture: bytes) -> np.ndarray:
    import io

    from PIL import Image

    with Image.open(io.BytesIO(picture)) as image:
        return np.asarray(image.convert("L"))


if __name__ == "__main__":
    unittest.main()
