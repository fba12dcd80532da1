"""From pages to spans: which pages are one screen, what it is called, whether it waits, returns, or tells of trouble."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence

import msgspec

from metrograph.log.lexicon import OTHER, Lexicon
from metrograph.sources.watch.likeness import inside, likeness, same_line, same_title, says_the_same, share_of, shared
from metrograph.sources.watch.page import Page, Text, can_be_pressed
from metrograph.sources.watch.surround import Surround
from metrograph.sources.watch.titles import Title, label_of, titles_of
from metrograph.sources.watch.words import plain, tells_of_trouble, tells_of_waiting

_SAME = 0.25  # of the lines: with the same title, so much has to stand where it stood, unless the label does
_STAYS = 0.55  # of the lines: with the old title still there, the same screen though another line looks more like one
_CONTENT = 0.7  # of the lines: without any title, the same screen
_OUTSIDE = 0.6  # of the lines outside a box that have to stay for it to be a dialog
_DIALOG = 0.4  # of the page: a larger box of lines is a page
_PAGE = 0.85  # of the picture: where more has changed, a page has come
_APART = 90  # pixels between a dialog's text and its buttons, and between these
_TURNED = 0.2  # of the picture: less changes when something is typed or picked
_FULL = 3  # lines: a page of more is not only a heading
_SHORTEST = 600  # milliseconds: what was there for less was on its way to something else
_BLANK = 900  # milliseconds: mode switches and window changes are blank for less
_RESTLESS = 0.03  # of the picture: a page of which more moves by itself is at work


class Span(msgspec.Struct, frozen=True):
    """A screen, or a wait, as it was seen.

    start, end: milliseconds; waiting: whether the machine was at work; title: empty where unknown; label: the sentence below.
    pressed: whether there was a button on it.
    points, margin: how much speaks for the title, and how much more than for the next line; read: how sure its reading is.
    returns: whether it was in front before; error: whether trouble was told on it, in which words, and when they came up; dialog: whether it lay over another.
    page: number of the still that shows it best; gap: whether the source was away before it.
    known: how sure a title is that a person has confirmed before; None where it was not.
    """

    start: int
    end: int
    title: str
    kind: str
    label: str = ""
    waiting: bool = False
    returns: bool = False
    error: bool = False
    trouble: str = ""
    trouble_at: int = 0
    dialog: bool = False
    pressed: bool = True
    points: float = 0.0
    margin: float = 0.0
    read: float = 0.0
    page: int = 0
    gap: bool = False
    known: float | None = None


class _Group:
    """Pages that follow each other and are one screen."""

    def __init__(
        self, page: Page, titles: list[Title], dialog: tuple[Text, ...] = (), under: _Group | None = None
    ) -> None:
        self.pages = [page]
        self.titles = [titles]
        self.dialog = dialog
        self.under = under
        self.until = page.start
        self.emptied = False

    @property
    def last(self) -> Page:
        return self.pages[-1]

    @property
    def fullest(self) -> Page:
        return max(self.pages, key=lambda page: len(page.said))

    @property
    def silent(self) -> bool:
        return self.last.blank or self.last.console or self.emptied

    def take(self, page: Page, titles: list[Title]) -> None:
        self.pages.append(page)
        self.titles.append(titles)

    def best(self) -> list[tuple[str, float, float]]:
        """Titles with their points over all pages and how sure they were read, the best first."""
        if self.silent:
            return []
        points: dict[str, float] = defaultdict(float)
        read: dict[str, float] = defaultdict(float)
        for titles in self.titles:
            here: dict[str, float] = {}
            for title in titles:
                known = next((name for name in (*points, *here) if same_title(name, title.text.text)), title.text.text)
                here[known] = max(here.get(known, 0.0), title.points)
                read[known] = max(read[known], title.text.sure)
            for name, most in here.items():
                points[name] += most
        count = sum(bool(titles) for titles in self.titles) or 1
        return sorted(((name, total / count, read[name]) for name, total in points.items()), key=lambda best: -best[1])


def find_spans(pages: Sequence[Page], lexicon: Lexicon, end: int | None = None) -> list[Span]:
    """The spans of a source, in the order in which they came up.

    end: where the source ended, in milliseconds; where the last page was read when it is not known.

    It is gone through twice: what is constant on all screens is known only at the end.
    """
    if not pages:
        return []
    around = Surround(_turned(pages))
    for _ in range(2):
        around = Surround(_screens(_group(pages, lexicon, around)))
    groups = _group(pages, lexicon, around)
    end = pages[-1].at if end is None else max(end, pages[-1].at)
    groups[-1].until = end
    return _spans(_joined(groups, around), end, lexicon, around)


def _turned(pages: Sequence[Page]) -> list[Page]:
    """Pages on which much is new: about one a screen, before anybody knows what a screen is."""
    spoken = [page for page in pages if page.said and not page.console]
    return [
        page
        for before, page in zip([None, *spoken], spoken, strict=False)
        if before is None or (share_of(page.changed, page) > _TURNED and likeness(before.said, page.said) < _CONTENT)
    ]


def _screens(groups: Iterable[_Group]) -> list[Page]:
    """The fullest page of every screen that says something."""
    return [group.fullest for group in groups if not group.silent and not group.dialog]


def _titles(page: Page, lexicon: Lexicon, around: Surround, within: Sequence[Text] | None = None) -> list[Title]:
    across = around.steps_across(page) if within is None else ()
    titles = titles_of(
        page,
        lambda text: lexicon.kind_of(text) != OTHER,
        lambda line: 1.0 if line in across else around.stale(line),
        within,
        lambda line, marked: around.names(page, line, marked),
    )
    return [msgspec.structs.replace(title, text=_spelled(title.text, around)) for title in titles]


def _spelled(text: Text, around: Surround) -> Text:
    return msgspec.structs.replace(text, text=around.spelled(text)) if around.stale(text) > 0 else text


def _group(pages: Sequence[Page], lexicon: Lexicon, around: Surround) -> list[_Group]:
    groups: list[_Group] = []
    current: _Group | None = None
    for page in pages:
        titles = _titles(page, lexicon, around)
        following = _following(current, page, titles, lexicon, around)
        if current is not None and following is not current:
            current.until = page.start
        if following not in groups:
            groups.append(following)
        following.until = page.at
        current = following
    return groups


def _following(current: _Group | None, page: Page, titles: list[Title], lexicon: Lexicon, around: Surround) -> _Group:
    """The group that a page belongs to: the one in front, the one under its dialog, or a new one."""
    if current is None or page.gap:
        return _Group(page, titles)
    if current.dialog and current.under is not None:
        if shared(current.dialog, page.said) >= 0.5 * len(current.dialog):
            current.take(page, _titles(page, lexicon, around, _again(current.dialog, page)))
            return current
        if _same_screen(current.under, page, titles, around):
            current.under.take(page, titles)
            return current.under
    if _emptied(current, page, around):
        following = _Group(page, [])
        following.emptied = True
        return following
    if _same_screen(current, page, titles, around):
        lines = () if current.dialog or current.silent else _dialog(current, page, around)
        if not lines:
            current.take(page, titles)
            return current
    elif current.silent or current.dialog or not (lines := _dialog(current, page, around)):
        return _Group(page, titles)
    inner = _titles(page, lexicon, Surround(), lines)
    return _Group(page, inner, lines, current)


def _emptied(current: _Group, page: Page, around: Surround) -> bool:
    """Whether of a full page nothing but its heading is left: it was answered, and the next one is on its way."""
    own = around.own(page)
    if current.emptied:
        return shared(around.own(current.last), own) == len(own) and len(own) <= 1
    return not current.silent and not current.dialog and len(own) <= 1 and len(around.own(current.fullest)) > _FULL


def _again(lines: Iterable[Text], page: Page) -> list[Text]:
    return [text for text in page.said if any(same_line(text, line) for line in lines)]


def _dialog(current: _Group, page: Page, around: Surround) -> tuple[Text, ...]:
    """The lines of a dialog that has come up over the screen in front; none when it is no dialog."""
    new = [text for text in page.said if not any(same_line(text, old) for old in current.last.said)]
    buttons = [text for text in new if text.button in {"answer", "forward", "cancel"}]
    if not buttons or share_of(page.changed, page) > _PAGE:
        return ()
    inner = _around(buttons[0], new)
    box = _bounds(inner)
    words = [text for text in inner if not text.button and len(plain(text.text).split()) >= 2]
    outside = [text for text in around.own(current.last) if not inside(text, box)]
    if not words or share_of(box, page) > _DIALOG or not outside:
        return ()
    return tuple(inner) if shared(outside, page.said) >= _OUTSIDE * len(outside) else ()


def _around(button: Text, lines: Sequence[Text]) -> list[Text]:
    """The lines that stand together with a button, none further from the next than a dialog's parts are."""
    found, rest = [button], [line for line in lines if line is not button]
    for line in found:
        near = [
            other for other in rest
            if max(other.top - line.bottom, line.top - other.bottom) <= _APART
            and max(other.left - line.right, line.left - other.right) <= 2 * _APART
        ]  # fmt: skip
        found += near
        rest = [other for other in rest if other not in near]
    return sorted(found, key=lambda line: (line.top, line.left))


def _bounds(lines: Sequence[Text]) -> tuple[int, int, int, int]:
    return (
        min(line.left for line in lines),
        min(line.top for line in lines),
        max(line.right for line in lines),
        max(line.bottom for line in lines),
    )


def _same_screen(group: _Group, page: Page, titles: list[Title], around: Surround) -> bool:
    if page.blank or page.console or group.silent:
        return (page.blank or page.console) and group.silent
    before = next((found for found in reversed(group.titles) if found), [])
    own, old = around.own(page), around.own(group.last)
    alike = likeness(old, own)
    if not before or not titles:
        return alike >= _CONTENT or (not before and not titles and not old and not own)
    if same_title(before[0].text.text, titles[0].text.text) and _near(before[0].text, titles[0].text, page):
        labels = label_of(old, before[0].text), label_of(own, titles[0].text)
        if not all(labels) or says_the_same(*labels):
            return True
        at_work = _at_work(page, around), _at_work(group.last, around)
        return all(at_work) or (
            not any(at_work) and likeness(_content(old, titles[0]), _content(own, titles[0])) >= _SAME
        )
    if any(same_line(before[0].text, text) for text in own):
        return alike >= _STAYS or (_at_work(page, around) and _at_work(group.last, around))
    return alike >= _CONTENT and not _near(before[0].text, titles[0].text, page)


def _content(lines: Iterable[Text], title: Title) -> list[Text]:
    """What stands on a page besides title and buttons."""
    return [line for line in lines if not line.button and not same_title(line.text, title.text.text)]


def _near(one: Text, other: Text, page: Page) -> bool:
    return abs(one.top - other.top) <= 0.06 * page.size[1]


def _at_work(page: Page, around: Surround) -> bool:
    """Whether nothing can be pressed to go on, and something tells that the machine is at work."""
    if page.blank or page.console:
        return True
    own = around.own(page)
    if not own:
        return True
    if any(can_be_pressed(text, own) for text in own if text.button in {"forward", "answer"}):
        return False
    return page.restless > _RESTLESS or page.moving or any(tells_of_waiting(text.text) for text in own)


def _joined(groups: list[_Group], around: Surround) -> list[_Group]:
    """Without what was only on its way; neighbours that turn out to be one screen are one."""
    kept: list[_Group] = []
    for group in groups:
        length = group.until - group.pages[0].start
        named = bool(group.best())
        before = kept[-1] if kept else None
        if before is not None and not group.dialog and not before.dialog and _one(before, group, around):
            before.pages += group.pages
            before.titles += group.titles
            before.until = group.until
        elif length >= (_SHORTEST if named else _BLANK) or group.dialog:
            kept.append(group)
    return kept


def _one(before: _Group, group: _Group, around: Surround) -> bool:
    if group.pages[0].gap:
        return False
    if before.silent or group.silent:
        return before.silent and group.silent
    titles, others = before.best(), group.best()
    if not titles and not others:
        return True
    at_work = all(_at_work(page, around) for page in (*before.pages, *group.pages))
    return bool(titles and others) and same_title(titles[0][0], others[0][0]) and at_work


def _spans(groups: Sequence[_Group], end: int, lexicon: Lexicon, around: Surround) -> list[Span]:
    found: list[Span] = []
    for number, group in enumerate(groups):
        after = groups[number + 1].pages[0].start if number + 1 < len(groups) else end
        until = group.until if any(other.under is group for other in groups) else after
        span = _span(group, max(until, group.pages[0].start), lexicon, around)
        returns = bool(span.title) and any(_is_again(span, other) for other in found)
        found.append(msgspec.structs.replace(span, returns=returns and not span.dialog))
    return found


def _is_again(span: Span, other: Span) -> bool:
    """Whether a screen was in front before: one heading may stand over several questions."""
    if other.dialog or not same_title(span.title, other.title) or span.waiting != other.waiting:
        return False
    return not span.label or not other.label or says_the_same(span.label, other.label)


def _span(group: _Group, end: int, lexicon: Lexicon, around: Surround) -> Span:
    best = group.best()
    title, points, read = best[0] if best else ("", 0.0, 0.0)
    page = max(group.pages, key=lambda page: (any(text.text == title for text in page.said), len(page.said)))
    place = next((text for text in page.said if text.text == title), None)
    label = label_of(around.own(page), place)
    trouble, trouble_at = _trouble(group, title)
    waiting = group.silent or sum(_at_work(page, around) for page in group.pages) * 2 > len(group.pages)
    return Span(
        group.pages[0].start, end, title, kind_of(title, label, lexicon), label, waiting and not group.dialog,
        error=bool(trouble), trouble=trouble, trouble_at=trouble_at, dialog=bool(group.dialog),
        pressed=any(page.asks or any(text.button for text in page.said) for page in group.pages), points=points, margin=points - (best[1][1] if len(best) > 1 else 0.0), read=read, page=page.number, gap=group.pages[0].gap,
    )  # fmt: skip


def _trouble(group: _Group, title: str) -> tuple[str, int]:
    """The line that tells of trouble, and when it came: in a dialog or a title, or while the screen was in front."""
    start = group.pages[0].start
    if group.dialog:
        return next((text.text for text in group.dialog if tells_of_trouble(text.text)), ""), start
    if tells_of_trouble(title):
        return title, start
    first = group.pages[0].said
    for page in group.pages[1:]:
        for text in page.said:
            if tells_of_trouble(text.text) and not any(says_the_same(text.text, other.text) for other in first):
                return text.text, page.start
    return "", 0


def kind_of(title: str, label: str, lexicon: Lexicon) -> str:
    """What a screen is for: by its title, or by the sentence below it where that says nothing."""
    kind = lexicon.kind_of(title)
    return kind if kind != OTHER or not title else lexicon.kind_of(label)
