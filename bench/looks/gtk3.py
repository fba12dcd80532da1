"""Draws sheets with GTK 3 on a virtual display, by the system's own Python: ``python3 gtk3.py SHEETS.json FOLDER WIDTH HEIGHT``."""

# What is bound to GTK has no types here.
# mypy: ignore-errors
import json
import sys

import gi

gi.require_version("Gdk", "3.0")
gi.require_version("Gtk", "3.0")
from gi.repository import Gdk, Gtk, Pango  # noqa: E402 - the version is asked for first


def main() -> None:
    """Draws all sheets of an order."""
    order = json.load(open(sys.argv[1], encoding="utf-8"))  # noqa: PTH123, SIM115 - no package of ours is here
    look = order["look"]
    settings = Gtk.Settings.get_default()
    settings.set_property("gtk-theme-name", look["theme"])
    settings.set_property("gtk-application-prefer-dark-theme", look["dark"])
    settings.set_property("gtk-font-name", f"{look['font']} {10.5 * look['scale']:.1f}")
    settings.set_property("gtk-enable-animations", False)
    for number, sheet in enumerate(order["sheets"]):
        window = Gtk.OffscreenWindow()
        window.set_size_request(int(sys.argv[3]), int(sys.argv[4]))
        window.add(_page(look, sheet))
        window.show_all()
        _settle()
        picture = window.get_pixbuf()
        if sheet["dialog"]:
            box = Gtk.OffscreenWindow()
            box.add(_dialog(sheet))
            box.show_all()
            _settle()
            over = box.get_pixbuf()
            over.copy_area(
                0, 0, over.get_width(), over.get_height(), picture,
                (picture.get_width() - over.get_width()) // 2, (picture.get_height() - over.get_height()) // 2,
            )  # fmt: skip
            box.destroy()
        picture.savev(f"{sys.argv[2]}/{number}.png", "png", [], [])
        window.destroy()


def _settle():
    for _ in range(40):
        while Gtk.events_pending():
            Gtk.main_iteration()


def _label(text, size=1.0, bold=False):
    label = Gtk.Label(label=text, xalign=0, wrap=True)
    attributes = Pango.AttrList()
    attributes.insert(Pango.attr_scale_new(size))
    if bold:
        attributes.insert(Pango.attr_weight_new(Pango.Weight.BOLD))
    label.set_attributes(attributes)
    return label


def _page(look, sheet):
    outer = Gtk.EventBox()
    column = Gtk.Box(orientation=Gtk.Orientation.VERTICAL)
    outer.add(column)
    onward = [_button(sheet, 1, True)]
    rest = [_button(sheet, 0, False), _button(sheet, 2, False)]
    if look["style"] == "bar":
        bar = Gtk.HeaderBar(title=sheet["heading"] or "Tallow")
        bar.pack_start(rest[0])
        bar.pack_end(onward[0])
        column.pack_start(bar, False, False, 0)
    across = Gtk.Box()
    column.pack_start(across, True, True, 0)
    if sheet["steps"]:
        across.pack_start(_steps(look, sheet), False, False, 0)
    page = Gtk.Box(orientation=Gtk.Orientation.VERTICAL, spacing=10, margin=24)
    across.pack_start(page, True, True, 0)
    if look["style"] != "bar" and sheet["heading"]:
        page.pack_start(
            _label(sheet["heading"], (1.7, 1.3, 1.0)[look["seed"] % 3], look["seed"] % 2 == 0), False, False, 6
        )
    if sheet["question"] and sheet["question"] != sheet["heading"]:
        page.pack_start(_label(sheet["question"]), False, False, 0)
    page.pack_start(_label(sheet["sentence"]), False, False, 0)
    _control(page, sheet)
    if sheet["error"]:
        page.pack_start(_label(sheet["error"], 1.0, True), False, False, 0)
    if look["style"] != "bar":
        row = Gtk.ButtonBox(spacing=8, margin=10, layout_style=Gtk.ButtonBoxStyle.END)
        for button in [*rest, *onward]:
            row.add(button)
        column.pack_end(row, False, False, 0)
    return outer


def _button(sheet, place, suggested):
    button = Gtk.Button(label=sheet["buttons"][place], sensitive=sheet["live"][place])
    if suggested:
        button.get_style_context().add_class("suggested-action")
    return button


def _steps(look, sheet):
    side = (
        Gtk.ListBox()
        if look["style"] == "side"
        else Gtk.Box(orientation=Gtk.Orientation.VERTICAL, margin=12, spacing=6)
    )
    side.set_size_request(int(200 * look["scale"]), -1)
    for number, name in enumerate(sheet["steps"]):
        label = _label(name, 1.0, look["style"] != "side" and number == sheet["step"])
        if look["style"] != "side" and number != sheet["step"]:
            label.set_opacity(0.55)
        label.set_property("margin", 6)
        side.add(label)
    if look["style"] == "side":
        side.select_row(side.get_row_at_index(sheet["step"]))
    return side


def _control(page, sheet):
    {"list": _list, "combo": _combo, "radios": _boxes, "checks": _boxes, "fields": _fields, "progress": _progress}.get(
        sheet["control"], _lines
    )(page, sheet)


def _list(page, sheet):
    rows = Gtk.ListBox()
    for item in sheet["items"]:
        label = _label(item)
        label.set_property("margin", 6)
        rows.add(label)
    rows.select_row(rows.get_row_at_index(sheet["picked"]))
    frame = Gtk.Frame()
    frame.add(rows)
    page.pack_start(frame, False, False, 0)


def _combo(page, sheet):
    combo = Gtk.ComboBoxText()
    for item in sheet["items"]:
        combo.append_text(item)
    combo.set_active(sheet["picked"])
    page.pack_start(combo, False, False, 0)


def _boxes(page, sheet):
    first = None
    for number, item in enumerate(sheet["items"]):
        if sheet["control"] == "checks":
            box = Gtk.CheckButton(label=item, active=number in sheet["ticked"])
        else:
            box = Gtk.RadioButton.new_with_label_from_widget(first, item)
            first = first or box
            box.set_active(number == sheet["picked"])
        page.pack_start(box, False, False, 0)


def _fields(page, sheet):
    for number, item in enumerate(sheet["items"]):
        page.pack_start(_label(item), False, False, 0)
        typed = sheet["typed"][number] if number < len(sheet["typed"]) else ""
        page.pack_start(Gtk.Entry(text=typed), False, False, 0)


def _progress(page, sheet):
    page.pack_start(Gtk.ProgressBar(fraction=sheet["share"]), False, False, 0)
    page.pack_start(_label(sheet["items"][sheet["picked"]]), False, False, 0)
    if sheet["slide"]:
        page.pack_start(_label(sheet["slide"], 2.0), True, True, 0)


def _lines(page, sheet):
    for item in sheet["items"]:
        page.pack_start(_label(item), False, False, 0)


def _dialog(sheet):
    frame = Gtk.Frame()
    outer = Gtk.EventBox()
    outer.add(frame)
    column = Gtk.Box(orientation=Gtk.Orientation.VERTICAL, spacing=12, margin=16)
    frame.add(column)
    column.add(_label(sheet["dialog"][0], 1.1, True))
    column.add(_label(sheet["dialog"][1]))
    row = Gtk.Box(spacing=8, homogeneous=True)
    for text in reversed(sheet["dialog"][2:]):
        row.pack_start(Gtk.Button(label=text), True, True, 0)
    column.add(row)
    return outer


if __name__ == "__main__":
    if Gdk.Display.get_default() is None:
        sys.exit("there is no display to draw on")
    main()
