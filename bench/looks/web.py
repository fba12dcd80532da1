"""Draws sheets as web pages in a browser without a display: ``python -m bench.looks.web SHEETS.json FOLDER``."""

from __future__ import annotations

import sys
import tempfile
from html import escape
from pathlib import Path

from selenium import webdriver

from bench.looks.drawing import inner_size, order_of
from bench.looks.flow import Sheet
from bench.looks.look import Look


def main() -> None:
    """Draws all sheets of an order."""
    order, folder = order_of(Path(sys.argv[1])), Path(sys.argv[2])
    width, height = inner_size(order.look)
    options = webdriver.ChromeOptions()
    with tempfile.TemporaryDirectory() as profile:
        for word in (
            "--headless=new", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", "--disable-background-networking",
            f"--user-data-dir={profile}", f"--window-size={width},{height + 200}",
        ):  # fmt: skip
            options.add_argument(word)
        browser = webdriver.Chrome(options=options, service=webdriver.ChromeService("/usr/bin/chromedriver"))
        browser.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
        )
        for number, sheet in enumerate(order.sheets):
            page = folder / "page.html"
            page.write_text(_page(order.look, sheet), "utf-8")
            browser.get(page.as_uri())
            browser.save_screenshot(str(folder / f"{number}.png"))
        browser.quit()


def _page(look: Look, sheet: Sheet) -> str:
    inks = ("#1c1e21", "#e6e6e6", "#26292e") if look.dark else ("#f2f3f5", "#1a1a1a", "#ffffff")
    accent = f"rgb{look.accent}"
    wide = {"card": "max-width:620px;margin:40px auto", "side": "margin:0", "wide": "margin:24px 60px"}[look.style]
    css = f"""
      * {{ box-sizing: border-box }} html, body {{ margin: 0; height: 100% }}
      body {{ background:{inks[0]}; color:{inks[1]}; font: {15 * look.scale:.0f}px '{look.font}', sans-serif; display:flex }}
      main {{ background:{inks[2]}; padding:28px; flex:1; display:flex; flex-direction:column; gap:12px; {wide} }}
      h1 {{ font-size:{(1.9, 1.4, 1.1)[look.seed % 3]}em; margin:0; font-weight:{(400, 600)[look.seed % 2]} }}
      nav {{ width:{220 * look.scale:.0f}px; background:{inks[0]}; padding:24px 0 }}
      nav div {{ padding:8px 20px; opacity:.7 }} nav .on {{ opacity:1; font-weight:600; border-left:4px solid {accent}; color:{accent} }}
      .list {{ border:1px solid #8888; border-radius:6px }} .list div {{ padding:8px 12px }}
      .list .on {{ background:{accent}; color:white }} input[type=text] {{ font:inherit; padding:6px; width:60%; display:block; background:{inks[0]}; color:inherit; border:1px solid #888; border-radius:4px }}
      footer {{ margin-top:auto; display:flex; gap:10px; justify-content:flex-end }}
      button {{ font:inherit; padding:8px 18px; border:1px solid #8886; border-radius:6px; background:{inks[0]}; color:inherit }}
      button.go {{ background:{accent}; color:white; border:0 }} button:disabled {{ opacity:.4 }}
      .error {{ color:#d33 }} progress {{ width:100%; accent-color:{accent} }} select {{ font:inherit; padding:6px }}
      .veil {{ position:fixed; inset:0; background:#0006; display:flex; align-items:center; justify-content:center }}
      .box {{ background:{inks[2]}; padding:22px; border-radius:8px; width:420px }} .box h2 {{ margin:0 0 8px; font-size:1.2em }}
      .box p {{ margin:0 0 16px }}
    """
    steps = ""
    if look.style == "side":
        names = [
            f"<div class='{'on' if number == sheet.step else ''}'>{escape(name)}</div>"
            for number, name in enumerate(sheet.steps)
        ]
        steps = f"<nav>{''.join(names)}</nav>" if names else "<nav></nav>"
    question = f"<div>{escape(sheet.question)}</div>" if sheet.question and sheet.question != sheet.heading else ""
    error = f"<div class=error>{escape(sheet.error)}</div>" if sheet.error else ""
    heading = f"<h1>{escape(sheet.heading)}</h1>" if sheet.heading else ""
    return (
        f"<meta charset=utf-8><style>{css}</style><body>{steps}<main>{heading}{question}<div>{escape(sheet.sentence)}</div>"
        f"{_control(sheet)}{error}<footer>{_buttons(sheet)}</footer></main>{_dialog(sheet)}"
    )


def _buttons(sheet: Sheet) -> str:
    places = ((2, ""), (0, ""), (1, "go"))
    return "".join(
        f"<button class='{kind}' {'' if sheet.live[place] else 'disabled'}>{escape(sheet.buttons[place])}</button>"
        for place, kind in places
    )


def _control(sheet: Sheet) -> str:
    items = list(enumerate(map(escape, sheet.items)))
    if sheet.control == "list":
        rows = [f"<div class='{'on' if n == sheet.picked else ''}'>{item}</div>" for n, item in items]
        return f"<div class=list>{''.join(rows)}</div>"
    if sheet.control == "combo":
        options = [f"<option {'selected' if n == sheet.picked else ''}>{item}</option>" for n, item in items]
        return f"<div><select>{''.join(options)}</select></div>"
    if sheet.control in {"radios", "checks"}:
        kind = "radio" if sheet.control == "radios" else "checkbox"
        on = {sheet.picked} if kind == "radio" else set(sheet.ticked)
        return "".join(f"<label><input type={kind} {'checked' if n in on else ''}> {item}</label>" for n, item in items)
    if sheet.control == "fields":
        typed = [*sheet.typed, *[""] * len(sheet.items)]
        return "".join(f"<label>{item}<input type=text value='{escape(typed[n])}'></label>" for n, item in items)
    if sheet.control == "progress":
        slide = (
            f"<div style='font-size:2em;padding:60px;text-align:center'>{escape(sheet.slide)}</div>"
            if sheet.slide
            else ""
        )
        return f"<progress value={sheet.share}></progress><div>{items[sheet.picked][1]}</div>{slide}"
    return "".join(f"<div>{item}</div>" for _, item in items)


def _dialog(sheet: Sheet) -> str:
    if not sheet.dialog:
        return ""
    title, text, *names = map(escape, sheet.dialog)
    buttons = "".join(f"<button class='{'go' if n == 0 else ''}'>{name}</button>" for n, name in enumerate(names))
    return f"<div class=veil><div class=box><h2>{title}</h2><p>{text}</p><footer>{buttons}</footer></div></div>"


if __name__ == "__main__":
    main()
