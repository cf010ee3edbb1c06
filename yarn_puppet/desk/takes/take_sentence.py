"""The sentences of the Takes page: all that is kept, what can be kept of the trace, and the take
that is chosen."""

from __future__ import annotations

from msgspec.structs import replace

from ...core.model.kinds.promises import PROMISES
from ..session.files.takes_to_write import title_of
from ..session.kept_takes import KeptTakes
from ..widgets import theme
from ..widgets.parts import Part, Token, Word, many_field, name_field, number_field
from .desk import SHOWS, TakesDesk
from .promise_sentence import new_promise


def kept_sentence(kept: KeptTakes) -> list[Part]:
    """How many takes, and how their promises stand."""
    takes = kept.takes
    verdicts = [verdict for outcome in kept.outcomes.values() for verdict in outcome.verdicts]
    broken = sum(not verdict.kept for verdict in verdicts)
    whole = len(verdicts) - broken
    if not takes:
        return [
            Word("No takes yet", strong=True),
            Word(
                "· a take is a piece of the trace; it runs again after every edit, and shows what "
                "that changed"
            ),
        ]
    parts: list[Part] = [Word(f"{len(takes)} take{'s' * (len(takes) != 1)}", strong=True)]
    if kept.trouble:
        return [*parts, Word(f"cannot be run: {kept.trouble}", color=theme.MADDER),
                Token("run again", theme.MADDER, name="run again", action=lambda: kept.run_again())]
    if kept.busy:
        return [*parts, Word(f"being run again: {len(kept.outcomes)} of {len(takes)}"),
                Token("stop", theme.INK, name="stop", quiet=True, action=kept.stop)]
    parts.append(Word(f"run again after every edit{' ·' * bool(verdicts)}"))
    if whole:
        parts.append(Word(f"{whole} promise{'s' * (whole != 1)} kept", strong=True,
                          color=theme.WOAD))
    if broken:
        parts.append(Word(f"{broken} broken", strong=True, color=theme.MADDER))
    played = sum(take.ticks / take.rate for take in takes.values())
    if kept.outcomes:
        parts.append(Word(f"· last run {kept.seconds:.2f} s for {played:.0f} s of play"))
    return parts


def _dice(desk: TakesDesk) -> list[Part]:
    """What the dice of the run on show begin with: another number, another run of the same
    hands."""
    player = desk.player
    seed = player.recording.compiled.seed

    def throw(value: float) -> None:
        take = replace(player.recording.take(), seed=round(value))
        player.open_take(take, player.take_name, player.recording.world)

    return [Word("· dice"), Token(
        str(seed), theme.PLUM, name="seed",
        tip="What is picked at random hangs on it: run it again with other dice",
        field=number_field(seed, throw, 0, 0xFFFFFFFF, 1))]


def deeds_sentence(desk: TakesDesk) -> list[Part]:
    """Keep a part of the trace; accept, or go back."""
    kept, player = desk.kept, desk.player
    first, last = player.span
    parts: list[Part] = []
    if player.records:
        most = len(player.records) - 1
        parts += [
            Word("keep ticks"),
            Token(
                str(first),
                theme.INDIGO,
                name="from tick",
                field=number_field(first, lambda tick: player.mark(round(tick), last), 0, most, 1),
                tip="Where the piece begins; what was before leads up to it. In the Trace: Shift "
                    "and drag, or [",
            ),
            Word("to"),
            Token(
                str(last),
                theme.INDIGO,
                name="to tick",
                field=number_field(last, lambda tick: player.mark(first, round(tick)), 0, most, 1),
                tip="Its last tick. In the Trace: Shift and drag, or ]",
            ),
            Token(
                "of the trace as…",
                theme.MADDER,
                name="keep",
                quiet=True,
                field=name_field(desk.next_name(), desk.keep, "a name; it is kept with the puppet"),
            ),
        ]
    if player.recording.setup.program.throws_dice:
        parts += _dice(desk)
    if player.head is not None:
        parts.append(
            Token(
                f"play on from {player.head}",
                theme.MADDER,
                name="play on",
                quiet=True,
                action=player.play_on,
                tip="New controls from here; the future that is left becomes a take (Shift+F5)",
            )
        )
    if kept.differs:
        parts += [
            Token(
                "accept all as reference",
                theme.WOAD,
                name="accept all",
                quiet=True,
                action=lambda: kept.accept(),
                tip="What they do now is what later runs are compared with",
            ),
            Token(
                "go back",
                theme.INK,
                name="go back",
                quiet=True,
                action=lambda: kept.go_back(desk.current),
                tip="Put the puppet and its booths back to how the reference was made: that of "
                    "the chosen take if it differs, else the newest. Can be undone",
            ),
        ]
    return parts


def chosen_sentence(desk: TakesDesk) -> list[Part]:
    """The take that is chosen, and what of it is shown below."""
    kept, file = desk.kept, desk.current
    if file not in kept.takes:
        return [Word("Choose a take to see what must hold on it")] if kept.takes else []
    player, take = desk.player, kept.takes[file]
    outcome = kept.outcomes.get(file)
    since = f" from {take.first}" if take.first else ""
    parts: list[Part] = [
        Token(f"{title_of(file)}{since}", theme.INK, name="take name", field=name_field(
            title_of(file), lambda name: desk.rename(file, name),
            "another name; its file follows")),
    ]
    for shows in SHOWS:
        on = desk.shows == shows
        parts.append(Token(shows, theme.INDIGO, name=f"show {shows.split(' ')[0]}", filled=on,
                           action=lambda shows=shows: desk.show_what(shows)))  # type: ignore[misc]
    shown = player.take_file == file
    parts.append(Token("loop", theme.INK, name="loop", quiet=not player.looping,
                       filled=player.looping and shown,
                       action=desk.loop, tip="Play it round and round (Ctrl+L)"))
    if outcome is not None and outcome.since_reference is not None:
        parts.append(Token("accept", theme.WOAD, name="accept", quiet=True,
                           action=lambda: kept.accept((file,)),
                           tip="What it does now is its reference"))
    if desk.shows == "promises":
        parts += _adding(desk, file)
    parts.append(Token("×", theme.MADDER, name="remove take", quiet=True,
                       action=lambda: kept.remove(file),
                       tip="Remove it (Delete)"))
    return parts


def _adding(desk: TakesDesk, file: str) -> list[Part]:
    """More promises: a new one, or one of what just happened."""

    def add(chosen: str) -> None:
        kind = next(each for each in PROMISES if each == chosen)
        desk.add(file, new_promise(kind, desk.document.puppet, desk.world))

    parts: list[Part] = [Token("+ promise…", theme.MADDER, name="add promise", quiet=True,
                               field=many_field(
        lambda: [(each.offer, kind) for kind, each in PROMISES.items()
                 if desk.document.puppet.is_of_bones or not each.of_bones], add,
        "a statement that must hold on this take"))]
    if desk.player.take_file == file and desk.player.records:
        parts.append(Token("make this a promise…", theme.MADDER, name="make promise", quiet=True,
                           field=many_field(
            desk.offered_promises, desk.promise_this,
            f"what just happened at tick {desk.player.tick}, as a statement"),
            tip="Of what just happened at the tick on show"))
    return parts
