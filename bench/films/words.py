"""What the painted installers say, in four languages: titles, labels, buttons, things to pick, words of trouble."""

from __future__ import annotations

import msgspec


class Text(msgspec.Struct, frozen=True):
    """What one screen says in one language. titles: one of them is taken; label: the sentence below; items: to pick from."""

    titles: tuple[str, ...]
    label: str
    items: tuple[str, ...] = ()


class Tongue(msgspec.Struct, frozen=True):
    """A language. buttons: next, back, cancel, install; error: said where an answer is refused; sure: a dialog's words."""

    buttons: tuple[str, str, str, str]
    error: tuple[str, ...]
    sure: tuple[str, str, str, str]
    slides: tuple[str, ...]
    screens: dict[str, Text]


_PLACES = (
    "Aldermoor",
    "Brackwater",
    "Calder Ness",
    "Dunmere",
    "Eastholm",
    "Fenwick Bay",
    "Garrow",
    "Holmfirth",
    "Inverle",
)

ENGLISH = Tongue(
    ("Next", "Back", "Cancel", "Install Now"),
    ("The two passwords do not match.", "Error: this name cannot be used.", "The server could not be reached."),
    ("Write the changes?", "All data on this disk will be lost.", "Yes", "No"),
    ("Find your files", "Write letters and more", "Pictures from your holidays", "Help is never far away"),
    {
        "welcome": Text(
            ("Welcome", "Welcome to Larkmoor", "Get started"),
            "This program will set up the system on your computer.",
            ("English", "Deutsch", "Français", "Español", "Português", "Svenska"),
        ),
        "place": Text(("Where are you?", "Time zone", "Location"), "Choose the place that is nearest to you.", _PLACES),
        "keyboard": Text(
            ("Keyboard layout", "Keyboard", "Choose your keyboard"),
            "Type here to test the layout:",
            ("English (UK)", "English (US)", "German", "French", "Spanish", "Danish", "Finnish"),
        ),
        "network": Text(
            ("Network", "Connect to a network", "Wireless"),
            "An internet connection is used to fetch updates.",
            ("Wired connection", "workshop", "neighbour", "No network"),
        ),
        "software": Text(
            ("Software selection", "Choose software", "Packages"),
            "What should be installed?",
            ("Full selection", "Small selection", "Extra drivers", "Media codecs"),
        ),
        "disk": Text(
            ("Disk setup", "Installation type", "Where to install"),
            "Choose how the disk is used.",
            ("Erase the disk", "Install alongside", "Use a free part", "By hand"),
        ),
        "account": Text(
            ("Who are you?", "User account", "Create an account"),
            "This name is used to log in.",
            ("Your name", "User name", "Password", "Repeat it"),
        ),
        "host": Text(
            ("Host name", "Name this computer", "Computer name"), "Others on the network see this name.", ("Name",)
        ),
        "summary": Text(
            ("Summary", "Ready to install", "Overview"),
            "Nothing has been written to the disk yet.",
            ("Language: English", "Place: Dunmere", "Keyboard: English (UK)", "Disk: 25 GiB, erased"),
        ),
        "copying": Text(
            ("Installing", "Copying files", "Installing the system"),
            "This takes a few minutes.",
            ("Unpacking the base system", "Copying the desktop", "Writing the boot loader", "Configuring packages"),
        ),
        "finished": Text(
            ("Installation complete", "All done", "Finished"),
            "Restart to use the new system.",
            ("Restart now", "Go on trying"),
        ),
        "privacy": Text(("Privacy", "Usage reports"), "Help to make it better.", ("Send reports", "Share location")),
        "appearance": Text(("Appearance", "Light or dark"), "Pick what you like.", ("Light", "Dark", "Automatic")),
    },
)
GERMAN = Tongue(
    ("Weiter", "Zurück", "Abbrechen", "Jetzt installieren"),
    (
        "Die Passwörter stimmen nicht überein.",
        "Fehler: Dieser Name ist ungültig.",
        "Der Server konnte nicht erreicht werden.",
    ),
    ("Änderungen schreiben?", "Alle Daten auf dieser Platte gehen verloren.", "Ja", "Nein"),
    ("Finden Sie Ihre Dateien", "Briefe und mehr schreiben", "Bilder aus dem Urlaub", "Hilfe ist immer in der Nähe"),
    {
        "welcome": Text(
            ("Willkommen", "Willkommen bei Larkmoor"),
            "Dieses Programm richtet das System auf Ihrem Rechner ein.",
            ("English", "Deutsch", "Français", "Español", "Português"),
        ),
        "place": Text(("Standort", "Zeitzone", "Wo befinden Sie sich?"), "Wählen Sie den nächsten Ort.", _PLACES),
        "keyboard": Text(
            ("Tastaturbelegung", "Tastatur", "Tastatur auswählen"),
            "Hier tippen, um die Belegung zu prüfen:",
            ("Deutsch", "Englisch (UK)", "Französisch", "Spanisch", "Dänisch"),
        ),
        "network": Text(
            ("Netzwerk", "Netzwerk einrichten", "Drahtlos"),
            "Für Aktualisierungen wird eine Verbindung gebraucht.",
            ("Kabelverbindung", "werkstatt", "nachbar"),
        ),
        "software": Text(
            ("Softwareauswahl", "Programme auswählen", "Pakete"),
            "Was soll installiert werden?",
            ("Volle Auswahl", "Kleine Auswahl", "Weitere Treiber", "Medien-Codecs"),
        ),
        "disk": Text(
            ("Festplatte einrichten", "Installationsart", "Installationsziel"),
            "Wie soll die Platte genutzt werden?",
            ("Platte löschen", "Daneben installieren", "Freien Teil nutzen", "Von Hand"),
        ),
        "account": Text(
            ("Benutzerkonto", "Wer sind Sie?", "Konto anlegen"),
            "Mit diesem Namen melden Sie sich an.",
            ("Ihr Name", "Benutzername", "Passwort", "Wiederholen"),
        ),
        "host": Text(("Rechnername", "Name des Rechners"), "Andere im Netz sehen diesen Namen.", ("Name",)),
        "summary": Text(
            ("Zusammenfassung", "Bereit zur Installation", "Überblick"),
            "Auf die Platte wurde noch nichts geschrieben.",
            ("Sprache: Deutsch", "Ort: Dunmere", "Tastatur: Deutsch", "Platte: 25 GiB, gelöscht"),
        ),
        "copying": Text(
            ("Installation läuft", "Dateien werden kopiert", "System wird installiert"),
            "Das dauert einige Minuten.",
            ("Grundsystem wird entpackt", "Desktop wird kopiert", "Bootloader wird geschrieben"),
        ),
        "finished": Text(
            ("Installation abgeschlossen", "Fertig"),
            "Starten Sie neu, um das System zu nutzen.",
            ("Jetzt neu starten", "Weiter ausprobieren"),
        ),
        "privacy": Text(
            ("Datenschutz", "Berichte"), "Helfen Sie, es zu verbessern.", ("Berichte senden", "Standort teilen")
        ),
        "appearance": Text(
            ("Erscheinungsbild", "Hell oder dunkel"),
            "Wählen Sie, was Ihnen gefällt.",
            ("Hell", "Dunkel", "Automatisch"),
        ),
    },
)
FRENCH = Tongue(
    ("Suivant", "Précédent", "Annuler", "Installer maintenant"),
    ("Les mots de passe ne correspondent pas.", "Erreur : ce nom est invalide.", "Le serveur est introuvable."),
    ("Écrire les changements ?", "Toutes les données du disque seront perdues.", "Oui", "Non"),
    ("Trouvez vos fichiers", "Écrire des lettres", "Photos de vacances", "De l'aide partout"),
    {
        "welcome": Text(
            ("Bienvenue", "Bienvenue dans Larkmoor"),
            "Ce programme installe le système sur votre ordinateur.",
            ("English", "Deutsch", "Français", "Español", "Português"),
        ),
        "place": Text(
            ("Fuseau horaire", "Votre emplacement", "Localisation"), "Choisissez le lieu le plus proche.", _PLACES
        ),
        "keyboard": Text(
            ("Disposition du clavier", "Clavier", "Choix du clavier"),
            "Tapez ici pour essayer :",
            ("Français", "Anglais (UK)", "Allemand", "Espagnol", "Danois"),
        ),
        "network": Text(
            ("Réseau", "Connexion au réseau"),
            "Une connexion sert à chercher les mises à jour.",
            ("Connexion filaire", "atelier", "voisin"),
        ),
        "software": Text(
            ("Choix des logiciels", "Logiciels", "Paquets"),
            "Que faut-il installer ?",
            ("Choix complet", "Choix réduit", "Pilotes en plus", "Codecs"),
        ),
        "disk": Text(
            ("Partitionnement du disque", "Type d'installation", "Disque"),
            "Comment utiliser le disque ?",
            ("Effacer le disque", "Installer à côté", "Utiliser une partie libre", "À la main"),
        ),
        "account": Text(
            ("Compte utilisateur", "Qui êtes-vous ?", "Créer un compte"),
            "Ce nom sert à se connecter.",
            ("Votre nom", "Identifiant", "Mot de passe", "Encore une fois"),
        ),
        "host": Text(("Nom de la machine", "Nom de l'ordinateur"), "Les autres voient ce nom sur le réseau.", ("Nom",)),
        "summary": Text(
            ("Résumé", "Prêt à installer", "Récapitulatif"),
            "Rien n'a encore été écrit sur le disque.",
            ("Langue : Français", "Lieu : Dunmere", "Clavier : Français", "Disque : 25 Gio, effacé"),
        ),
        "copying": Text(
            ("Installation en cours", "Copie des fichiers"),
            "Cela prend quelques minutes.",
            ("Copie du système de base", "Copie du bureau", "Écriture du chargeur"),
        ),
        "finished": Text(
            ("Installation terminée", "Terminé"),
            "Redémarrez pour utiliser le système.",
            ("Redémarrer maintenant", "Continuer l'essai"),
        ),
        "privacy": Text(
            ("Vie privée", "Confidentialité"), "Aidez à l'améliorer.", ("Envoyer des rapports", "Partager le lieu")
        ),
        "appearance": Text(
            ("Apparence", "Clair ou sombre"), "Choisissez ce qui vous plaît.", ("Clair", "Sombre", "Automatique")
        ),
    },
)
SPANISH = Tongue(
    ("Siguiente", "Atrás", "Cancelar", "Instalar ahora"),
    ("Las contraseñas no coinciden.", "Error: este nombre no es válido.", "No se pudo alcanzar el servidor."),
    ("¿Escribir los cambios?", "Se perderán todos los datos del disco.", "Sí", "No"),
    ("Encuentre sus archivos", "Escriba cartas y más", "Fotos de vacaciones", "La ayuda siempre está cerca"),
    {
        "welcome": Text(
            ("Bienvenido", "Bienvenido a Larkmoor"),
            "Este programa instala el sistema en su equipo.",
            ("English", "Deutsch", "Français", "Español", "Português"),
        ),
        "place": Text(("Zona horaria", "Ubicación", "¿Dónde se encuentra?"), "Elija el lugar más cercano.", _PLACES),
        "keyboard": Text(
            ("Distribución del teclado", "Teclado", "Elegir el teclado"),
            "Escriba aquí para probar:",
            ("Español", "Inglés (UK)", "Alemán", "Francés", "Danés"),
        ),
        "network": Text(
            ("Red", "Conectar a una red"),
            "Se usa una conexión para buscar actualizaciones.",
            ("Conexión por cable", "taller", "vecino"),
        ),
        "software": Text(
            ("Selección de programas", "Programas", "Paquetes"),
            "¿Qué desea instalar?",
            ("Selección completa", "Selección mínima", "Más controladores", "Códecs"),
        ),
        "disk": Text(
            ("Particionado de discos", "Tipo de instalación", "Disco de destino"),
            "¿Cómo se usa el disco?",
            ("Borrar el disco", "Instalar junto a otro", "Usar una parte libre", "A mano"),
        ),
        "account": Text(
            ("Cuenta de usuario", "¿Quién es usted?", "Crear una cuenta"),
            "Este nombre se usa para entrar.",
            ("Su nombre", "Usuario", "Contraseña", "Repetir"),
        ),
        "host": Text(("Nombre del equipo", "Nombre de la máquina"), "Otros verán este nombre en la red.", ("Nombre",)),
        "summary": Text(
            ("Resumen", "Listo para instalar"),
            "Aún no se ha escrito nada en el disco.",
            ("Idioma: Español", "Lugar: Dunmere", "Teclado: Español", "Disco: 25 GiB, borrado"),
        ),
        "copying": Text(
            ("Instalando", "Instalando el sistema", "Copiando archivos"),
            "Esto tarda unos minutos.",
            ("Desempaquetando el sistema base", "Copiando el escritorio", "Escribiendo el cargador"),
        ),
        "finished": Text(
            ("Instalación completada", "Terminado"),
            "Reinicie para usar el sistema.",
            ("Reiniciar ahora", "Seguir probando"),
        ),
        "privacy": Text(
            ("Privacidad", "Informes de uso"), "Ayude a mejorarlo.", ("Enviar informes", "Compartir ubicación")
        ),
        "appearance": Text(
            ("Apariencia", "Claro u oscuro"), "Elija lo que le guste.", ("Claro", "Oscuro", "Automático")
        ),
    },
)
TONGUES = {"en": ENGLISH, "de": GERMAN, "fr": FRENCH, "es": SPANISH}

CONTROLS = {
    "welcome": "list", "place": "combo", "keyboard": "list", "network": "list", "software": "checks", "disk": "radios",
    "account": "fields", "host": "fields", "summary": "paragraphs", "copying": "progress", "finished": "radios",
    "privacy": "checks", "appearance": "radios",
}  # fmt: skip
