"""Draws sheets with GTK 4 on a virtual display, by the system's own Python: ``python3 gtk4.py SHEETS.json FOLDER WIDTH HEIGHT MEMORY``."""

# What is bound to GTK has no types here.
# mypy: ignore-errors
import json
import shutil
import sys

import gi

gi.require_version("Gdk", "4.0")
gi.require_version("Gtk", "4.0")
from gi.repository import GLib, Gtk, Pango  # noqa: E402 - the version is asked for first


def main() -> None:
    """Draws all sheets of an order."""
    order = json.load(open(sys.argv[1], encoding="utf-8"))  # noqa: PTH123, SIM115 - no package of ours is here
    look = order["look"]
    Gtk.init()
    settings = Gtk.Settings.get_default()
    settings.set_property("gtk-application-prefer-dark-theme", look["dark"])
    settings.set_property("gtk-font-name", f"{look['font']} {10.5 * look['scale']:.1f}")
    settings.set_property("gtk-enable-animations", False)
    for number, sheet in enumerate(order["sheets"]):
        page = _page(look, sheet)
        window = Gtk.Window(decorated=False, default_width=int(sys.argv[3]), default_height=int(sys.argv[4]))
        over = Gtk.Overlay(child=page)
        if sheet["dialog"]:
            over.add_overlay(_dialog(sheet))
        window.set_child(over)
        window.present()
        _settle()
        # Nodes of a renderer do not reach Python here, so that the display's own memory is taken instead.
        shutil.copy(sys.argv[5], f"{sys.argv[2]}/{number}.xwd")
        window.destroy()
        _settle(2)


def _settle(times=30):
    loop = GLib.MainContext.default()
    for _ in range(times):
        while loop.iteration(False):
            pass
        GLib.usleep(4000)


def _label(text, size=1.0, bold=False, middle=False, wrap=True):
    label = Gtk.Label(label=text, xalign=0.5 if middle else 0, wrap=wrap)
    attributes = Pango.AttrList()
    attributes.insert(Pango.attr_scale_new(size))
    if bold:
        attributes.insert(Pango.attr_weight_new(Pango.Weight.BOLD))
    label.set_attributes(attributes)
    return label


def _page(look, sheet):
    column = Gtk.Box(orientation=Gtk.Orientation.VERTICAL)
    back, onward, cancel = (_button(sheet, place) for place in range(3))
    bar = Gtk.HeaderBar(show_title_buttons=False)
    bar.set_title_widget(_label(sheet["heading"] if look["style"] == "bar" else "Tallow", 1.0, True, True, wrap=False))
    bar.pack_start(back)
    (bar.pack_end(onward) if look["style"] != "boxed" else bar.pack_end(cancel))
    column.append(bar)
    width = 560 if look["style"] != "bar" else -1
    page = Gtk.Box(
        orientation=Gtk.Orientation.VERTICAL, spacing=10, margin_top=24, margin_start=24, margin_end=24, vexpand=True,
        halign=Gtk.Align.CENTER if width > 0 else Gtk.Align.FILL, width_request=width,
    )  # fmt: skip
    column.append(page)
    if look["style"] != "bar":
        page.append(_label(sheet["heading"], 2.0, True, True))
    if sheet["question"] and sheet["question"] != sheet["heading"]:
        page.append(_label(sheet["question"], middle=look["style"] == "large"))
    page.append(_label(sheet["sentence"], middle=look["style"] == "large"))
    _control(page, sheet)
    if sheet["error"]:
        page.append(_label(sheet["error"]))
    if look["style"] == "boxed":
        row = Gtk.Box(halign=Gtk.Align.CENTER, margin_bottom=20)
        row.append(onward)
        column.append(row)
    return column


def _button(sheet, place):
    button = Gtk.Button(label=sheet["buttons"][place], sensitive=sheet["live"][place])
    if place == 1:
        button.add_css_class("suggested-action")
    return button


def _control(page, sheet):
    {"list": _rows, "combo": _combo, "radios": _rows, "checks": _rows, "fields": _fields, "progress": _progress}.get(
        sheet["control"], _lines
    )(page, sheet)


def _rows(page, sheet):
    rows = Gtk.ListBox()
    rows.add_css_class("frame")
    first = None
    for number, item in enumerate(sheet["items"]):
        row = Gtk.Box(spacing=8, margin_top=8, margin_bottom=8, margin_start=8)
        if sheet["control"] == "list":
            row.append(_label(item))
            if number == sheet["picked"]:
                row.append(Gtk.Image(icon_name="object-select-symbolic"))
        else:
            radio = sheet["control"] == "radios"
            box = Gtk.CheckButton(label=item)
            if radio:
                box.set_group(first)
                first = first or box
            box.set_active(number == sheet["picked"] if radio else number in sheet["ticked"])
            row.append(box)
        rows.append(row)
    page.append(rows)


def _combo(page, sheet):
    page.append(Gtk.DropDown(model=Gtk.StringList.new(sheet["items"]), selected=sheet["picked"]))


def _fields(page, sheet):
    for number, item in enumerate(sheet["items"]):
        page.append(_label(item))
        page.append(Gtk.Entry(text=sheet["typed"][number] if number < len(sheet["typed"]) else ""))


def _progress(page, sheet):
    page.append(Gtk.ProgressBar(fraction=sheet["share"]))
    page.append(_label(sheet["items"][sheet["picked"]], middle=True))
    if sheet["slide"]:
        page.append(_label(sheet["slide"], 1.8, middle=True))


def _lines(page, sheet):
    for item in sheet["items"]:
        page.append(_label(item))


def _dialog(sheet):
    frame = Gtk.Frame(halign=Gtk.Align.CENTER, valign=Gtk.Align.CENTER)
    frame.add_css_class("background")
    column = Gtk.Box(orientation=Gtk.Orientation.VERTICAL, spacing=14)
    for side in ("top", "bottom", "start", "end"):
        getattr(column, f"set_margin_{side}")(18)
    frame.set_child(column)
    column.append(_label(sheet["dialog"][0], 1.2, True, True))
    column.append(_label(sheet["dialog"][1], middle=True))
    row = Gtk.Box(spacing=8, homogeneous=True)
    for text in reversed(sheet["dialog"][2:]):
        row.append(Gtk.Button(label=text))
    column.append(row)
    return frame


if __name__ == "__main__":
    main()
