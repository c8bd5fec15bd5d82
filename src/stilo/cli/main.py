"""The commands of `stilo`.

Exit status: 0 all in style or done, 1 something is not in style, 2 something
could not be done. Errors go to standard error, one line each.
"""

from __future__ import annotations

import gc
import os
import signal
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path
from types import FrameType
from typing import Any, NoReturn

import click

from stilo.cli import complete
from stilo.cli.counts import told
from stilo.cli.files import NAME_HELP, Files, paths, read_input, texts
from stilo.cli.notes import tell_unread
from stilo.cli.options import (
    FAILED, FORMS, IN_STYLE, NOT_IN_STYLE, Failures, Wanted, end_on, options
)
from stilo.cli.place import Place
from stilo.cli.telling import finish, hand_over, hand_over_patch, lost, tell
from stilo.cli.work import Workers, workers
from stilo.errors import StiloError
from stilo.sheet.properties import is_number


class _Commands(click.Group):
    """All commands: whatever happens in one, it ends with a line that says so and status 2."""

    def main(self, *arguments: Any, **others: Any) -> Any:
        """Run the command line; a mistake in it is told in one line."""
        begin: Callable[..., Any] = super().main
        is_whole = others.pop("standalone_mode", True)
        try:
            status = begin(*arguments, **others, standalone_mode=False)
        except click.UsageError as error:
            if not is_whole:
                raise
            if isinstance(error, click.exceptions.NoArgsIsHelpError):
                error.show()
                sys.exit(FAILED)
            command = error.ctx.command_path if error.ctx is not None else "stilo"
            what = error.format_message().rstrip(".")
            tell(f"{command}: {what[:1].lower()}{what[1:]}; see {command} --help", err=True)
            sys.exit(FAILED)
        except click.Abort:
            tell("stopped; nothing written", err=True)
            sys.exit(FAILED)
        if not is_whole:
            return status
        sys.exit(status if isinstance(status, int) else IN_STYLE)

    def invoke(self, context: click.Context) -> Any:
        """Run a command."""
        try:
            return super().invoke(context)
        except StiloError as error:
            end_on(error)
        except OSError as error:
            where = f"{error.filename}: " if error.filename else ""
            tell(f"{where}{error.strerror or error}", err=True)
            sys.exit(FAILED)
        finally:
            finish()
            if lost:
                tell(f"standard output: {lost[0]}", err=True)
                sys.exit(FAILED)


@click.group(
    cls=_Commands,
    context_settings={"help_option_names": ["--help", "-h"], "max_content_width": 100},
)
@click.version_option(package_name="stilo", message="stilo %(version)s")
def main() -> None:
    """Reformat source code into one layout that fits a line width, in the style you choose.

    Start with `stilo demo`, then `stilo preview FILE`.
    """
    for stream in (sys.stdout, sys.stderr):
        reconfigure = getattr(stream, "reconfigure", None)
        if reconfigure is not None:  # a file name need not be valid text
            reconfigure(errors="backslashreplace")


def _end(number: int, frame: FrameType | None) -> NoReturn:
    """End on a signal, by way of all that has to be cleaned up; while a module is read there is nothing."""
    while frame is not None:
        if frame.f_code.co_filename == "<frozen importlib._bootstrap>":
            signal.signal(number, signal.SIG_DFL)
            os.kill(os.getpid(), number)
        frame = frame.f_back
    if number == signal.SIGINT:
        raise KeyboardInterrupt
    sys.exit(128 + number)


def run() -> None:
    """The command line as a process of its own."""
    for name in ("stdout", "stderr"):
        if getattr(sys, name) is None:  # it was closed before we began
            setattr(sys, name, open(os.devnull, "w"))
    for number in (signal.SIGTERM, getattr(signal, "SIGHUP", signal.SIGTERM)):
        signal.signal(number, _end)
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, _end)
    # Layout makes no cycles, and looking for them takes a twelfth of the time.
    gc.disable()
    main()


@main.command()
@paths
@texts
@options()
@workers
def apply(files: Files, wanted: Wanted, by: Workers) -> None:
    """Reformat files in place, and the files in folders. Files that are in style are not written.

    Standard input (`-`) is printed as it would be reformatted.

    \b
    Examples:
      stilo apply .                            all files here
      stilo apply --edited-since HEAD          what you changed and have not committed
      stilo apply a.py --within 14-30          the statements in these lines
      stilo apply - --name a.py < old > new    in a pipe
    """
    from stilo.cli.apply import apply_files

    sys.exit(apply_files(files, wanted, by))


@main.command()
@paths
@options()
@click.option("--list", "lists", is_flag=True, help="List what would change. Nothing is written.")
@click.option(
    "--ask", is_flag=True, help="Ask which module is meant where a name may come from several."
)
def arrange(files: Files, wanted: Wanted, lists: bool, ask: bool) -> None:
    """Sort and group the imports of files, and change nothing else.

    Into the groups of your style, even if it leaves imports alone in `apply`.
    """
    from stilo.cli.arrange import arrange_files

    if files.is_input:
        raise click.UsageError("imports are put in order in files, not in standard input")
    failures = Failures()
    done = arrange_files(files.results(wanted, failures, True), wanted, failures, lists, ask)
    kept = files.laid_out - done.changed - done.failed
    verb = "to be put in order" if lists else "put in order"
    said = f"{verb}: {done.changed}; in order before: {kept}; refused: {failures.count}"
    tell(f"{said}{files.rest()}{told(done.total)}", err=True)
    sys.exit(FAILED if failures.count else NOT_IN_STYLE if lists and done.changed else IN_STYLE)


@main.command()
@paths
@texts
@options()
@click.option(
    "--report",
    "form",
    type=click.Choice(FORMS),
    default="short",
    help="A summary (`short`), every place (`all`), the `names` of files, a `patch`; for programs `json`, an "
    "object a line, or `sarif`; for CI services annotations of `github` or a report for `gitlab`.",
)
@workers
def proof(files: Files, wanted: Wanted, form: str, by: Workers) -> None:
    """Report what is not in style: how much, where, and which settings decide it.

    Exit status 1 if something is not.

    \b
    Examples:
      stilo proof .                            a summary
      stilo proof . --report patch             what would make it right
      stilo proof --staged                     before a commit
      stilo proof . --report github            in CI
    """
    from stilo.cli.proof import proof_files

    sys.exit(proof_files(files, wanted, by, form))


@main.command()
@click.argument("file", metavar="FILE")
@options()
@click.option("--patch", is_flag=True, help="Print a patch instead of the whole file.")
@click.option(
    "--beside",
    is_flag=True,
    help="Print the file and its result beside each other, differences marked."
)
@click.option("--page", metavar="FILE", help="Write this page of HTML with both beside each other.")
@click.option("--name", metavar="FILE", help=NAME_HELP)
def preview(
    file: str, wanted: Wanted, patch: bool, beside: bool, page: str | None, name: str | None
) -> None:
    """Print a file, or standard input (`-`), as it would be reformatted. The file is not changed.

    \b
    Examples:
      stilo preview a.py --beside              before and after beside each other
      stilo preview a.py --style allman        in another style
      stilo preview a.py --page a.html         for a colleague
    """
    import stilo
    from stilo.calls import read_bytes

    shown = file if file != "-" else name or "standard input"
    if file == "-" and not (wanted.language or wanted.sheet or name):
        raise click.UsageError("standard input needs --language, --sheet or --name")
    try:
        data = read_input() if file == "-" else read_bytes(file)
        style = wanted.styles.of(shown)
        if style.skipped:
            tell(f"{shown}: skipped by {style.skipped}; shown as it is", err=True)
            hand_over(data)
            return
        result = stilo.reformat_styled(data, style, lines=wanted.lines, name=shown)
        tell_unread(shown, result.unread)
    except stilo.StiloError as error:
        end_on(error)
    if patch:
        from stilo.cli.patch import patch_of

        hand_over_patch(patch_of(result.source.raw, result.data, shown))
    elif beside:
        from stilo.cli.beside import show_beside

        show_beside(result, shown)
    elif page is not None:
        from stilo.cli.beside import page_of

        Path(page).write_text(page_of(result, shown), encoding="utf-8")
        tell(f"{page}: written", err=True)
    else:
        hand_over(result.data)


@main.command()
@partial(paths, is_all=True)
@options("language", "sheet", "style", "given")
@click.option(
    "--lines",
    type=click.IntRange(1),
    default=1000,
    show_default=True,
    help="The most changed lines in a commit, unless one file has more.",
)
@click.option(
    "--step", type=click.IntRange(1), metavar="N", help="Print the files of the Nth commit."
)
@click.option(
    "--pass-over",
    "revisions",
    metavar="REVISION",
    multiple=True,
    help="Put a commit on the list that git blame passes over. May be repeated.",
)
@workers
def adopt(
    files: Files,
    wanted: Wanted,
    lines: int,
    step: int | None,
    revisions: tuple[str, ...],
    by: Workers,
) -> None:
    """Plan how to bring a code base into style: in commits that can be looked through.

    \b
    Examples:
      stilo adopt                                          the plan
      stilo adopt --step 1 | stilo apply --files-from -    what is in the first commit
      stilo adopt --pass-over HEAD                         once it is committed
    """
    from stilo.cli import adopt as command

    if revisions:
        sys.exit(command.pass_over(revisions))
    sys.exit(command.plan(files, wanted, by, lines, step))


@main.command()
@partial(paths, is_all=True)
@options("language", "sheet", "style", "given")
@click.option(
    "--page", metavar="FILE", default="stilo-report.html", show_default=True, help="The page."
)
@click.option("--pictures", metavar="FOLDER", help="Write the figures there as well, as PNG.")
@click.option(
    "--commits",
    type=click.IntRange(0, 200),
    default=12,
    show_default=True,
    help="How many commits to measure, over the whole history.",
)
@workers
def report(
    files: Files, wanted: Wanted, page: str, pictures: str | None, commits: int, by: Workers
) -> None:
    """Write a page about a code base: how much is in style, what is not, and how that came about."""
    from stilo.cli.report import report as write

    sys.exit(write(files, wanted, by, page, pictures, commits))


@main.command()
def hook() -> None:
    """Let git check what is staged before each commit, in the repository around this folder."""
    from stilo.cli.hook import install

    sys.exit(install())


@main.command()
@click.argument("style", required=False)
@click.option("--end", "ends", is_flag=True, help="Go back to the team's style.")
@click.option("--serve", "serves", is_flag=True, hidden=True)
def private(style: str | None, ends: bool, serves: bool) -> None:
    """Work in a style of your own in this clone of a git repository; commits stay in the team's.

    STYLE is a name or a file. See docs/projects.md.
    """
    from stilo.cli import private as command

    if serves:
        sys.exit(command.answer())
    if (style is None) is not ends:
        raise click.UsageError("give a style, or --end")
    sys.exit(command.begin(style) if style is not None else command.end())


@main.command()
@click.option(
    "--port",
    type=click.IntRange(0, 65535),
    metavar="N",
    help="Wait for an editor at this port of this machine; otherwise it speaks by standard input and "
    "output."
)
def serve(port: int | None) -> None:
    """Run as a language server, which your editor starts. See docs/editors.md."""
    from stilo.serve.start import serve as begin

    begin(port)


@main.command()
@click.argument("place", metavar="FILE:LINE[:COLUMN]")
@options("language", "sheet", "style", "given")
@click.option("--in-result", is_flag=True, help="Take the place as one in the reformatted file.")
@click.option(
    "--try", "tries", is_flag=True, help="Show the statement at each other value of these settings."
)
def why(place: str, wanted: Wanted, in_result: bool, tries: bool) -> None:
    """Explain a place: why a line breaks there or not, and which setting would change it."""
    import stilo
    from stilo.cli.why import explain

    path, line, column = _place(place)
    try:
        explain(path, line, column, wanted, in_result, tries)
    except stilo.StiloError as error:
        end_on(error)


@main.command()
@click.argument("file", required=False, metavar="[FILE]")
@options()
@click.option(
    "--role",
    "roles",
    multiple=True,
    metavar="ROLE",
    shell_complete=complete.roles,
    help="Only those of a role, such as arguments; `common`: those of no role. May be repeated."
)
@click.option(
    "--find",
    "words",
    multiple=True,
    metavar="WORDS",
    help='Only those that fit these words best, such as "trailing comma".',
)
@click.option("--changed", is_flag=True, help="Only those that are not at their default.")
@click.option(
    "--matters",
    is_flag=True,
    help="Only those that make a difference in FILE, or in the lines of --within."
)
@click.option("--json", "as_json", is_flag=True, help="As JSON, for programs.")
@click.option(
    "--save-in",
    "place",
    type=Place(),
    metavar="PLACE",
    help="Save the values of --set (with --changed: all that are changed) in `project`, `personal`, "
    "`editorconfig` or a `directive`, or the whole style in a FILE.toml. The patch is shown first."
)
@click.option(
    "--take-back",
    "taken_back",
    multiple=True,
    metavar="NAME",
    shell_complete=complete.names,
    help="With --save-in: take the value of a setting out of that place. May be repeated."
)
@click.option("--common", is_flag=True, help="With --save-in: for all languages, not FILE's alone.")
@click.option("--yes", is_flag=True, help="With --save-in: write without asking.")
@click.option("--styles", "names", is_flag=True, help="List the named styles that come with Stilo.")
@click.option("--schema", is_flag=True, help="Print a JSON Schema of stilo.toml.")
def settings(
    file: str | None,
    wanted: Wanted,
    roles: tuple[str, ...],
    words: tuple[str, ...],
    changed: bool,
    matters: bool,
    as_json: bool,
    place: str | None,
    taken_back: tuple[str, ...],
    common: bool,
    yes: bool,
    names: bool,
    schema: bool,
) -> None:
    """Show the settings for a file: value, where it comes from, permitted values, meaning."""
    import stilo
    from stilo.cli import settings as command

    try:
        if names:
            command.show_styles()
        elif schema:
            command.show_schema()
        elif place is not None:
            from stilo.cli.saving import keep

            keep(file, wanted, place, changed, common, yes, taken_back)
        elif taken_back:
            raise click.UsageError("--take-back needs --save-in, which says where from")
        else:
            style, chosen = command.chosen(file, wanted, roles, changed, matters, words)
            command.show(style, chosen, as_json)
    except stilo.StiloError as error:
        end_on(error)


def _place(text: str) -> tuple[str, int, int | None]:
    parts = text.rsplit(":", 2)
    numbers: list[int] = []
    while len(parts) > 1 and is_number(parts[-1]) and len(numbers) < 2:
        numbers.insert(0, int(parts.pop()))
    if not numbers:
        raise click.UsageError(f"a place is FILE:LINE or FILE:LINE:COLUMN, not {text!r}")
    return ":".join(parts), numbers[0], numbers[1] if len(numbers) > 1 else None


@main.command()
@options("style", "given")
@click.option("--folder", type=click.Path(), help="Also write the demo files there, to play with.")
def demo(wanted: Wanted, folder: str | None) -> None:
    """Show before and after of a few files of Skerry Line, an invented ferry company."""
    from stilo.cli.demo import show_demo

    sys.exit(show_demo(wanted.styles, folder))


if __name__ == "__main__":
    run()
