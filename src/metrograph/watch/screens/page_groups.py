"""Which pages follow each other and are one screen."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from copy import copy
from typing import NamedTuple

import msgspec

from metrograph.log.lexicon import OTHER, Lexicon
from metrograph.watch.pages.page import Page, Text
from metrograph.watch.pages.sameness import same_line, same_title, share_of, shared, similarity
from metrograph.watch.screens.dialogs import at_work, dialog_over, seen_again
from metrograph.watch.screens.questions import said_below, same_question
from metrograph.watch.screens.static_regions import StaticRegions
from metrograph.watch.screens.titles import Title, titles_of

_SAME = 0.25  # of the lines: with the same title, so much has to stand where it stood, unless the question does
_STAYS = 0.55  # of the lines: with the old title still there, the same screen though another line looks more like one
_CONTENT = 0.7  # of the lines: without any title, the same screen
_OLD = 0.8  # of the lines: with more of them from before, something was only added
_TURNED = 0.2  # of the picture: less changes when something is typed or picked
_FULL = 3  # lines: a page of more is not only a heading
_BLANK = 900  # milliseconds: mode switches and window changes are blank for less
SHORTEST = 600
"""Milliseconds: what was in front for less was on its way to something else."""


class PageGroup:
    """Pages that follow each other and are one screen."""

    def __init__(
        self, page: Page, titles: list[Title], dialog: tuple[Text, ...] = (), under: PageGroup | None = None
    ) -> None:
        self.pages = [page]
        self.titles = [titles]
        self.dialog = dialog
        self.under = under
        self.until = page.start
        self.emptied = False

    @property
    def last(self) -> Page:
        """The page that is in front."""
        return self.pages[-1]

    @property
    def fullest(self) -> Page:
        """The page that says most."""
        return max(self.pages, key=lambda page: len(page.said))

    @property
    def silent(self) -> bool:
        """Whether nothing stands there that could be a screen."""
        return self.last.blank or self.last.console or self.emptied

    def is_over(self, group: PageGroup) -> bool:
        """Whether it is a dialog over another screen."""
        return self.under is not None and self.under.pages[0] is group.pages[0]

    def take(self, page: Page, titles: list[Title]) -> None:
        """Takes a page that belongs to this screen."""
        self.pages.append(page)
        self.titles.append(titles)

    def with_next(self, group: PageGroup) -> PageGroup:
        """This screen and the next, as one."""
        one = copy(self)
        one.pages, one.titles, one.until = self.pages + group.pages, self.titles + group.titles, group.until
        return one

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


def turned(pages: Sequence[Page]) -> list[Page]:
    """Pages on which much is new: about one a screen, before anybody knows what a screen is."""
    spoken = [page for page in pages if page.said and not page.console]
    return [
        page
        for before, page in zip([None, *spoken], spoken, strict=False)
        if before is None
        or (share_of(page.changed, page) > _TURNED and shared(page.said, before.said) < _OLD * len(page.said))
    ]


def screens_of(groups: Iterable[PageGroup]) -> list[Page]:
    """The fullest page of every screen that says something."""
    return [group.fullest for group in groups if not group.silent and not group.dialog]


class Grouping:
    """The pages of a source by screens, in order, one page after the other. groups: what there is so far."""

    def __init__(self, lexicon: Lexicon, regions: StaticRegions) -> None:
        self._lexicon, self._regions = lexicon, regions
        self.groups: list[PageGroup] = []
        self._current: PageGroup | None = None

    def take(self, pages: Iterable[Page]) -> Grouping:
        """Takes the next pages; itself, so that it can be written in a row."""
        for page in pages:
            titles = titles_on(page, self._lexicon, self._regions)
            following = _following(self._current, page, titles, self._lexicon, self._regions)
            if self._current is not None and following is not self._current:
                self._current.until = page.start
            if following not in self.groups:
                self.groups.append(following)
            following.until = page.at
            self._current = following
        return self

    def ended(self, end: int) -> list[PageGroup]:
        """The screens of a source that ends, in milliseconds, with the one in front."""
        if self._current is not None:
            self._current.until = end
        return self.groups


def _following(
    current: PageGroup | None, page: Page, titles: list[Title], lexicon: Lexicon, regions: StaticRegions
) -> PageGroup:
    """The group that a page belongs to: the one in front, the one under its dialog, or a new one."""
    if current is None or page.gap:
        return PageGroup(page, titles)
    known = _on_dialog(current, page, titles, lexicon, regions)
    if known is not None:
        return known
    if _emptied(current, page, regions):
        following = PageGroup(page, [])
        following.emptied = True
        return following
    lines = () if current.dialog or current.silent else dialog_over(current.last, page, regions)
    if lines:
        return PageGroup(page, titles_on(page, lexicon, StaticRegions(), lines), lines, current)
    if not _same_screen(current, page, titles, regions):
        return PageGroup(page, titles)
    current.take(page, titles)
    return current


def _on_dialog(
    current: PageGroup, page: Page, titles: list[Title], lexicon: Lexicon, regions: StaticRegions
) -> PageGroup | None:
    """The dialog that is still there, or the screen under it that is in front again; None where it is neither."""
    if not current.dialog or current.under is None:
        return None
    if shared(current.dialog, page.said) >= _STAYS * len(current.dialog):
        current.take(page, titles_on(page, lexicon, regions, seen_again(current.dialog, page)))
        return current
    if _same_screen(current.under, page, titles, regions):
        current.under.take(page, titles)
        return current.under
    return None


def _emptied(current: PageGroup, page: Page, regions: StaticRegions) -> bool:
    """Whether of a full page nothing but its heading is left: it was answered, and the next one is on its way."""
    if regions.come_anew(current.last, page):
        return False  # a desktop after a black screen: all of it surrounds other pages, and it is whole all the same
    own = regions.own(page)
    if current.emptied:
        return shared(regions.own(current.last), own) == len(own) and len(own) <= 1
    return not current.silent and not current.dialog and len(own) <= 1 and len(regions.own(current.fullest)) > _FULL


def _same_screen(group: PageGroup, page: Page, titles: list[Title], regions: StaticRegions) -> bool:
    """Whether a page belongs to the screen in front: by title and question, or else by what stands where it stood."""
    says_nothing = page.blank or page.console
    if says_nothing or group.silent:
        return says_nothing and group.silent
    own, old = regions.own(page), regions.own(group.last)
    before = next((found for found in reversed(group.titles) if found), [])
    if before and titles:
        busy = at_work(group.last, regions), at_work(page, regions)
        return _same_titled(_TitledPage(old, before[0]), _TitledPage(own, titles[0]), page, busy)
    nothing_at_all = not (before or titles or old or own)
    return nothing_at_all or similarity(old, own) >= _CONTENT


class _TitledPage(NamedTuple):
    """A page without what stands on others too, and the line that is most likely its title."""

    lines: list[Text]
    title: Title


def _same_titled(old: _TitledPage, new: _TitledPage, page: Page, busy: tuple[bool, bool]) -> bool:
    """Whether two pages with titles are one screen. busy: whether each shows that the installer is at work."""
    near = _near(old.title.text, new.title.text, page)
    if near and same_title(old.title.text.text, new.title.text.text):
        return _same_question(old.lines, new.lines, (old.title, new.title), busy)
    if len(new.lines) > len(old.lines) + _FULL:
        return False  # what was there was hardly a page, so that all of it is still there
    alike = similarity(old.lines, new.lines)
    if any(same_line(old.title.text, text) for text in new.lines):
        return all(busy) or alike >= _STAYS
    return not near and alike >= _CONTENT


def _same_question(old: list[Text], own: list[Text], titles: tuple[Title, Title], busy: tuple[bool, bool]) -> bool:
    """Whether two pages under one heading ask one thing: some installers put several questions under one."""
    asked = said_below(old, titles[0].text), said_below(own, titles[1].text)
    if not all(asked) or same_question(*asked) or all(busy):
        return True
    return not any(busy) and similarity(_content(old, titles[1]), _content(own, titles[1])) >= _SAME


def _content(lines: Iterable[Text], title: Title) -> list[Text]:
    """What stands on a page besides title and buttons."""
    return [line for line in lines if not line.button and not same_title(line.text, title.text.text)]


def _near(one: Text, other: Text, page: Page) -> bool:
    return abs(one.top - other.top) <= 0.06 * page.size[1]


def joined(groups: Sequence[PageGroup], regions: StaticRegions) -> list[PageGroup]:
    """Without what was only on its way; neighbours that turn out to be one screen are one, as a group of its own."""
    kept: list[PageGroup] = []
    for group in groups:
        length = group.until - group.pages[0].start
        named = bool(group.best())
        before = kept[-1] if kept else None
        if before is not None and not group.dialog and not before.dialog and _one(before, group, regions):
            kept[-1] = before.with_next(group)
        elif length >= (SHORTEST if named else _BLANK) or group.dialog:
            kept.append(group)
    return kept


def _one(before: PageGroup, group: PageGroup, regions: StaticRegions) -> bool:
    if group.pages[0].gap:
        return False
    if before.silent or group.silent:
        return before.silent and group.silent
    titles, others = before.best(), group.best()
    if not titles and not others:
        return True
    busy = all(at_work(page, regions) for page in (*before.pages, *group.pages))
    return bool(titles and others) and same_title(titles[0][0], others[0][0]) and busy


def titles_on(
    page: Page, lexicon: Lexicon, regions: StaticRegions, within: Sequence[Text] | None = None
) -> list[Title]:
    """The lines that may be the title of a page. within: only these, where a dialog stands on it."""
    across = regions.steps_across(page) if within is None else ()
    titles = titles_of(
        page,
        lambda text: lexicon.kind_of(text) != OTHER,
        lambda line: 1.0 if line in across else regions.stale(line, page),
        within,
        lambda line, marked: regions.names(page, line, marked),
    )
    return [msgspec.structs.replace(title, text=_spelled(title.text, page, regions)) for title in titles]


def _spelled(text: Text, page: Page, regions: StaticRegions) -> Text:
    return msgspec.structs.replace(text, text=regions.spelled(text)) if regions.stale(text, page) > 0 else text
