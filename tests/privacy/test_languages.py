"""What is personal and what is secret is known in every language that is read, and a language is a folder."""

import sys
import tempfile
import tomllib
import unittest
from pathlib import Path
from unittest import mock

from metrograph.languages import language_tables as languages
from metrograph.log.lexicon import load_lexicon
from metrograph.privacy.secret_places import secrets_in
from metrograph.privacy.secrets import is_hinted, is_secret
from metrograph.watch.reading import words

NAMES = {
    "deu": ("Benutzername", "Ihr vollständiger Name", "Rechnername:", "Name des Rechners"),
    "fra": ("Nom d'utilisateur", "Nom complet", "Nom de la machine", "Prénom"),
    "spa": ("Nombre de usuario", "Su nombre completo", "Nombre de la máquina"),
    "ita": ("Nome utente", "Nome del computer"),
    "por": ("Nome de utilizador", "Nome do computador"),
    "nld": ("Gebruikersnaam", "Computernaam"),
    "pol": ("Nazwa użytkownika", "Nazwa komputera"),
    "rus": ("Имя пользователя", "Имя компьютера"),
    "jpn": ("ユーザー名", "あなたのコンピューター名"),
}
SECRETS = (
    "Passwort",
    "mot de passe",
    "Contraseña",
    "Contrasena",
    "senha",
    "hasło",
    "haslo",
    "lösenord",
    "пароль",
    "密码",
    "パスワード",
    "şifre",
    "Wachtwoord",
    "Kennwort (Wiederholung)",
)
PLAIN = ("language", "Sprache", "partitionnement", "swap", "disco", "encryption", "clavier", "tema")


class Known(unittest.TestCase):
    def test_names_of_what_tells_who_and_where(self) -> None:
        lexicon = load_lexicon()
        for language, names in NAMES.items():
            for name in names:
                self.assertTrue(lexicon.is_personal(name), (language, name))
        for key in PLAIN:
            self.assertFalse(lexicon.is_personal(key), key)

    def test_names_of_secrets(self) -> None:
        for name in SECRETS:
            self.assertTrue(is_secret(name), name)
            self.assertEqual([leak.start for leak in secrets_in(f"{name}: hunter2!x")], [len(name) + 2], name)
        for key in PLAIN:
            self.assertFalse(is_secret(key), key)

    def test_every_secret_word_hints_at_itself(self) -> None:
        for word in languages.words_of("private", "secret"):
            self.assertTrue(is_hinted(word), word)

    def test_every_language_that_is_read_knows_what_is_private(self) -> None:
        self.assertLessEqual(languages.tables("screens").keys(), languages.tables("private").keys())
        self.assertLessEqual(languages.tables("kinds").keys(), languages.tables("private").keys())


class Added(unittest.TestCase):
    """A made-up language is added by a folder alone."""

    def test_a_folder_is_enough(self) -> None:
        self.addCleanup(self._forget)
        with tempfile.TemporaryDirectory() as folder:
            for path in languages.FOLDER.glob("*/*.toml"):
                (Path(folder) / path.parent.name).mkdir(exist_ok=True)
                (Path(folder) / path.parent.name / path.name).write_bytes(path.read_bytes())
            own = Path(folder) / "qaa"
            own.mkdir()
            (own / "kinds.toml").write_text('keyboard = ["klimperkas"]\n')
            (own / "screens.toml").write_text('[buttons]\nforward = ["voran"]\n\n[lines]\nwaiting = ["es wurgelt"]\n')
            (own / "private.toml").write_text('personal = ["rufzeichen"]\nsecret = ["losungswurt"]\n')
            with mock.patch.object(languages, "FOLDER", Path(folder)):
                self._forget()
                lexicon = load_lexicon()
                self.assertEqual(lexicon.kind_of("Der Klimperkasten"), "keyboard")
                self.assertEqual(words.button_of("< Voran >"), "forward")
                self.assertTrue(words.tells_of_waiting("Es wurgelt noch"))
                self.assertTrue(lexicon.is_personal("Ihr Rufzeichen"))
                self.assertTrue(is_secret("Losungswurt"))
        self._forget()
        self.assertEqual(load_lexicon().kind_of("Der Klimperkasten"), "other")

    def _forget(self) -> None:
        """All that any module keeps of the languages, whichever asked first."""
        for name, module in list(sys.modules.items()):
            if name.startswith("metrograph."):
                for kept in vars(module).values():
                    if callable(forget := getattr(kept, "cache_clear", None)):
                        forget()

    def test_tables_have_what_is_asked_of_them_and_nothing_else(self) -> None:
        kinds = set(tomllib.loads((languages.FOLDER.parent / "log/lexicon.toml").read_text())["kinds"])
        for code, table in languages.tables("kinds").items():
            self.assertLessEqual(table.keys(), kinds, code)
        for code, table in languages.tables("screens").items():
            self.assertLessEqual(table.keys(), {"buttons", "lines", "small"}, code)
        for code, table in languages.tables("private").items():
            self.assertEqual(table.keys(), {"personal", "secret"}, code)
