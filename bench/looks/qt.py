"""Draws sheets with Qt, without any display: ``python -m bench.looks.qt SHEETS.json FOLDER``."""

from __future__ import annotations

import os
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QPalette
from PySide6.QtWidgets import (
    QApplication,
    QCheckBox,
    QComboBox,
    QDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QLineEdit,
    QListWidget,
    QProgressBar,
    QPushButton,
    QRadioButton,
    QVBoxLayout,
    QWidget,
    QWizard,
    QWizardPage,
)  # fmt: skip

from bench.looks.drawing import Order, inner_size, order_of
from bench.looks.flow import Sheet
from bench.looks.look import Look

_LIGHT, _DARK = "#f6f5f4", "#2b2d30"


def main() -> None:
    """Draws all sheets of an order."""
    order, folder = order_of(Path(sys.argv[1])), Path(sys.argv[2])
    app = QApplication([])
    _dress(app, order.look)
    for number, sheet in enumerate(order.sheets):
        window = _wizard(order, sheet) if order.look.style.startswith("wizard") else _plain(order, sheet)
        window.resize(*inner_size(order.look))
        window.show()
        app.processEvents()
        picture = window.grab()
        if sheet.dialog:
            box = _dialog(sheet)
            box.show()
            app.processEvents()
            over = box.grab()
            from PySide6.QtGui import QPainter

            painter = QPainter(picture)
            left, top = (window.width() - over.width()) // 2, (window.height() - over.height()) // 2
            painter.fillRect(left - 2, top - 30, over.width() + 4, over.height() + 32, QColor("#555"))
            painter.setPen(QColor("white"))
            painter.drawText(left + 8, top - 10, sheet.dialog[0])
            painter.drawPixmap(left, top, over)
            painter.end()
            box.close()
        picture.save(str(folder / f"{number}.png"))
        window.close()


def _dress(app: QApplication, look: Look) -> None:
    app.setStyle(look.theme)
    font = QFont(look.font)
    font.setPixelSize(round(15 * look.scale))
    app.setFont(font)
    palette = QPalette(QColor(_DARK if look.dark else _LIGHT))
    if look.dark:
        for role in (QPalette.ColorRole.WindowText, QPalette.ColorRole.Text, QPalette.ColorRole.ButtonText):
            palette.setColor(role, QColor("#eee"))
            palette.setColor(QPalette.ColorGroup.Disabled, role, QColor("#777"))
        palette.setColor(QPalette.ColorRole.Base, QColor("#1d1e20"))
    palette.setColor(QPalette.ColorRole.Highlight, QColor(*look.accent))
    palette.setColor(QPalette.ColorRole.HighlightedText, QColor("white"))
    app.setPalette(palette)


def _wizard(order: Order, sheet: Sheet) -> QWidget:
    wizard = QWizard()
    style = QWizard.WizardStyle.ModernStyle if order.look.style == "wizard-modern" else QWizard.WizardStyle.ClassicStyle
    wizard.setWizardStyle(style)
    page = QWizardPage()
    page.setTitle(sheet.heading)
    page.setSubTitle(sheet.question or sheet.sentence)
    _fill(page, sheet, question=False)
    wizard.addPage(page)
    wizard.setOption(QWizard.WizardOption.HaveHelpButton, on=False)
    wizard.setOption(QWizard.WizardOption.NoBackButtonOnStartPage, on=False)
    names = (QWizard.WizardButton.BackButton, QWizard.WizardButton.FinishButton, QWizard.WizardButton.CancelButton)
    for name, text in zip(names, sheet.buttons, strict=True):
        wizard.setButtonText(name, text)
    wizard.restart()
    wizard.show()
    for name, on in zip(names, sheet.live, strict=True):
        wizard.button(name).setEnabled(on)
    return wizard


def _plain(order: Order, sheet: Sheet) -> QWidget:
    window, look = QWidget(), order.look
    across = QHBoxLayout(window)
    if sheet.steps:
        across.addWidget(_steps(look, sheet))
    right = QVBoxLayout()
    across.addLayout(right, 1)
    if sheet.heading:
        heading = QLabel(sheet.heading)
        font = heading.font()
        font.setPixelSize(round(font.pixelSize() * (1.6 if look.seed % 3 else 1.15)))
        font.setBold(look.seed % 2 == 0)
        heading.setFont(font)
        right.addWidget(heading)
    page = QWidget()
    right.addWidget(page, 1)
    _fill(page, sheet, question=True)
    row = QHBoxLayout()
    right.addLayout(row)
    row.addStretch(1)
    names = sheet.buttons if look.seed % 2 else (sheet.buttons[2], sheet.buttons[0], sheet.buttons[1])
    live = sheet.live if look.seed % 2 else (sheet.live[2], sheet.live[0], sheet.live[1])
    for text, on in zip(names, live, strict=True):
        button = QPushButton(text)
        button.setEnabled(on)
        button.setDefault(text == sheet.buttons[1])
        row.addWidget(button)
    return window


def _steps(look: Look, sheet: Sheet) -> QWidget:
    if look.style == "side-list":
        steps = QListWidget()
        steps.addItems(list(sheet.steps))
        steps.setCurrentRow(sheet.step)
        steps.setFixedWidth(round(220 * look.scale))
        return steps
    side = QFrame()
    side.setFixedWidth(round(220 * look.scale))
    side.setAutoFillBackground(True)
    ground = "#23272e" if look.seed % 2 else ("#3a3d42" if look.dark else "#e3e3e6")
    side.setStyleSheet(f"QFrame {{ background: {ground} }}")
    column = QVBoxLayout(side)
    plain = "#9aa" if ground != "#e3e3e6" else "#667"
    for number, name in enumerate(sheet.steps):
        label = QLabel(name)
        marked = number == sheet.step
        ink = f"rgb{look.accent}" if marked and look.seed % 3 == 0 else ("white" if marked else plain)
        if marked and ground == "#e3e3e6" and look.seed % 3:
            ink = "black"
        label.setStyleSheet(f"color: {ink}; font-weight: {700 if marked and look.seed % 4 else 400}")
        column.addWidget(label)
    column.addStretch(1)
    return side


def _fill(page: QWidget, sheet: Sheet, question: bool) -> None:
    column = QVBoxLayout(page)
    if question and sheet.question and sheet.question != sheet.heading:
        column.addWidget(QLabel(sheet.question))
    column.addWidget(_sentence(sheet.sentence))
    _control(column, sheet)
    if sheet.error:
        error = QLabel(sheet.error)
        error.setStyleSheet("color: #d22")
        column.addWidget(error)
    if sheet.control != "list":
        column.addStretch(1)


def _sentence(text: str) -> QLabel:
    label = QLabel(text)
    label.setWordWrap(True)
    return label


def _control(column: QLayout, sheet: Sheet) -> None:
    if sheet.control == "list":
        rows = QListWidget()
        rows.addItems(list(sheet.items))
        rows.setCurrentRow(sheet.picked)
        column.addWidget(rows)
    elif sheet.control == "combo":
        combo = QComboBox()
        combo.addItems(list(sheet.items))
        combo.setCurrentIndex(sheet.picked)
        column.addWidget(combo)
    elif sheet.control in {"radios", "checks"}:
        for number, item in enumerate(sheet.items):
            box = QRadioButton(item) if sheet.control == "radios" else QCheckBox(item)
            box.setAutoExclusive(False)
            box.setChecked(number == sheet.picked if sheet.control == "radios" else number in sheet.ticked)
            column.addWidget(box)
    elif sheet.control == "fields":
        for number, item in enumerate(sheet.items):
            column.addWidget(QLabel(item))
            column.addWidget(QLineEdit(sheet.typed[number] if number < len(sheet.typed) else ""))
    elif sheet.control == "progress":
        bar = QProgressBar()
        bar.setValue(round(sheet.share * 100))
        column.addWidget(bar)
        column.addWidget(QLabel(sheet.items[sheet.picked]))
        if sheet.slide:
            slide = QLabel(sheet.slide)
            slide.setAlignment(Qt.AlignmentFlag.AlignCenter)
            slide.setMinimumHeight(200)
            column.addWidget(slide)
    else:
        for item in sheet.items:
            column.addWidget(QLabel(item))


def _dialog(sheet: Sheet) -> QDialog:
    box = QDialog()
    column = QVBoxLayout(box)
    column.addWidget(QLabel(sheet.dialog[1]))
    row = QHBoxLayout()
    row.addStretch(1)
    for text in sheet.dialog[2:]:
        row.addWidget(QPushButton(text))
    column.addLayout(row)
    return box


if __name__ == "__main__":
    main()
