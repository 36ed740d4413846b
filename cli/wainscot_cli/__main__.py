"""The commands of ./wainscot."""

import argparse
import json
import math
import os
import re
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any, NoReturn

from wainscot_core.boundary import dump, parse_json, read, unknown_fields
from wainscot_core.dog.energy import by_multiplier
from wainscot_core.dossier import reference
from wainscot_core.errors import InputError
from wainscot_core.followup.log import WeightLog
from wainscot_core.followup.trend import trend
from wainscot_core.units import Measures

from .paths import REFERENCE


def main() -> int:
    """Run one command; the exit status."""
    try:
        arguments = _parser().parse_args()
        return int(arguments.run(arguments))
    except InputError as error:
        print(json.dumps({"error": {"field": error.field, "message": error.message}}))
        return 2


class _Parser(argparse.ArgumentParser):
    """Says what is wrong with the words of a command in the one error shape."""

    def error(self, message: str) -> NoReturn:
        option = re.search(r"--([a-z-]+)", message)
        raise InputError(option[1].replace("-", "_") if option else "", message)


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="./wainscot", description="Homemade diets for dogs.")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")

    def add(name: str, run: object, text: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=text, description=text)
        sub.set_defaults(run=run)
        return sub

    demo = add("demo", _demo, "serve the application with demo data")
    demo.add_argument("--port", type=int, default=8080)
    demo.add_argument("--reset", action="store_true", help="start over; asks first")
    demo.add_argument("--yes", action="store_true", help="do not ask before --reset")
    serve = add("serve", _serve, "serve the application on a data folder")
    serve.add_argument("--data", type=Path, required=True)
    serve.add_argument("--port", type=int, default=8080)
    serve.add_argument(
        "--bind",
        default="127.0.0.1",
        metavar="ADDRESS",
        help="the address of this machine to serve on, where a proxy is elsewhere",
    )
    backup = add("backup", _backup, "write a backup of a data folder; it may be served meanwhile")
    backup.add_argument("file", nargs="?", type=Path, help="where to; a folder names it by itself")
    backup.add_argument(
        "--data", type=Path, help="the data folder; the only one there is if not given"
    )
    restore = add("restore", _restore, "bring a backup back; what is there is moved aside")
    restore.add_argument("file", type=Path)
    restore.add_argument(
        "--data", type=Path, help="the data folder; the only one there is if not given"
    )
    restore.add_argument("--yes", action="store_true", help="do not ask")
    practices = add(
        "practices", _practices, "list the practices of a data folder, or make one more"
    )
    practices.add_argument(
        "--data", type=Path, help="the data folder; the only one there is if not given"
    )
    practices.add_argument("--add", metavar="NAME", help="make a practice of this name")
    practices.add_argument("--owner", metavar="EMAIL", help="whom to invite as its owner")
    practices.add_argument("--region", help="where it works: europe, united-states ...")
    practices.add_argument("--address", help="where the application is reached, for the link")
    let_in = add("let-in", _let_in, "a link by which somebody sets a new password")
    let_in.add_argument("username")
    let_in.add_argument(
        "--data", type=Path, help="the data folder; the only one there is if not given"
    )
    let_in.add_argument(
        "--without-code", action="store_true", help="also take the authenticator away"
    )
    let_in.add_argument("--address", help="where the application is reached, for the link")
    take_out = add("take-out", _take_out, "write all records of a practice to a file")
    take_out.add_argument("file", type=Path)
    take_out.add_argument("--practice", metavar="NAME", help="which, where there are several")
    take_out.add_argument(
        "--data", type=Path, help="the data folder; the only one there is if not given"
    )
    bring_in = add("bring-in", _bring_in, "make a practice of such a file, and invite its owner")
    bring_in.add_argument("file", type=Path)
    bring_in.add_argument("--owner", metavar="EMAIL", required=True, help="whom to invite")
    bring_in.add_argument("--name", help="what it is called here, as in the file if not given")
    bring_in.add_argument(
        "--data", type=Path, help="the data folder; the only one there is if not given"
    )
    bring_in.add_argument("--address", help="where the application is reached, for the link")
    test = add("test", _test, "lint, types, web, core, server and browser tests")
    test.add_argument("only", nargs="*", help="lint, web, core, server, browser")
    bench = add("bench", _bench, "measure speed against the floor")
    bench.add_argument(
        "what",
        nargs="?",
        choices=("all", "browser"),
        default="all",
        help="browser: only what is felt at the screen",
    )
    soaked = add("soak", _soak, "kill a server of its own again and again while people work")
    soaked.add_argument("--kills", type=int, default=200)
    soaked.add_argument("--seed", type=int, default=1)
    analyse = add("analyse", _analyse, "analyse a case file; prints JSON")
    analyse.add_argument("case", help="path of the case file, or - for standard input")
    check = add("check", _check, "what the checks find in a case file or in words; prints JSON")
    check.add_argument("case", nargs="?", help="path of the case file, or - for standard input")
    check.add_argument("--phrase", help="words of a recipe, a note or a label instead of a case")
    check.add_argument(
        "--phrases", help="path of a file, a phrase a line, a tab and the dog's kg behind it"
    )
    check.add_argument("--weight-kg", type=float, help="what the dog weighs, for doses")
    adjust = add("formulate", _formulate, "adjust a case file's recipe to its targets; prints JSON")
    adjust.add_argument("case", help="path of the case file, or - for standard input")
    recipe = add("read-recipe", _read_recipe, "read a recipe in words; prints JSON")
    recipe.add_argument("file", nargs="?", help="path of the text, or - for standard input")
    recipe.add_argument("--phrase", help="one line instead of a file")
    recipe.add_argument(
        "--measures",
        choices=[m.value for m in Measures],
        default=Measures.US.value,
        help="whose cups and spoons are meant",
    )
    weights = add("trend", _trend, "what weights and kcal say of the energy; prints JSON")
    weights.add_argument("log", help="path of the log, or - for standard input")
    energy = add("energy", _energy, "energy need by the multiplier method; prints JSON")
    energy.add_argument("--weight-kg", type=float, required=True)
    energy.add_argument("--multiplier", type=float, default=1.0)
    build = add("build-composition", _build, "build reference/composition from the public tables")
    build.add_argument("--packages", type=Path, help="folder with the unpacked packages")
    add("check-data", _check_data, "verify the built food data")
    add("lock", _lock, "lock the Python packages anew")
    add("generate", _generate, "regenerate the OpenAPI schema and the TypeScript types")
    return parser


def _read(name: str) -> dict[str, Any]:
    if name == "-":
        return parse_json(sys.stdin.read())
    path = Path(name)
    if not path.is_file():
        raise InputError("", f"there is no file {name}")
    try:
        return parse_json(path.read_text(encoding="utf-8"))
    except (UnicodeDecodeError, OSError) as error:
        raise InputError("", f"cannot read {name}: {error}") from None


def _print(report: object) -> int:
    try:
        print(json.dumps(dump(report), indent=1, allow_nan=False))
        sys.stdout.flush()
    except BrokenPipeError:
        # Whoever reads has enough: the rest goes nowhere, without a traceback.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 0


def _analyse(arguments: argparse.Namespace) -> int:
    from wainscot_core.analysis.analyse import analyse_case
    from wainscot_core.formats.casefile import open_case

    opened = open_case(reference.load(REFERENCE), _read(arguments.case))
    return _print(analyse_case(opened.dossier, opened.warnings))


def _check(arguments: argparse.Namespace) -> int:
    from wainscot_core.findings import Finding
    from wainscot_core.formats.casefile import open_case
    from wainscot_core.release.concerns import standing_against
    from wainscot_core.release.freeze import Forward, judged

    given = (arguments.case, arguments.phrase, arguments.phrases)
    if sum(x is not None for x in given) != 1:
        raise InputError(
            "", "give the path of a case, or --phrase, or --phrases with a file of them"
        )
    if arguments.case is None:
        return _check_words(arguments)
    opened = open_case(reference.load(REFERENCE), _read(arguments.case))
    dossier, prompts = opened.dossier, opened.dossier.reference.label_prompts
    plan = judged(Forward(dossier, opened.file.recipe.name, ()))
    found = standing_against(plan, prompts)
    return _print({"findings": dump(found, tuple[Finding, ...]), "warnings": list(opened.warnings)})


def _check_words(arguments: argparse.Namespace) -> int:
    from wainscot_core.checks.told import check_phrase
    from wainscot_core.findings import Finding

    facts = reference.load(REFERENCE)

    def found(text: str, weight_kg: float | None) -> object:
        return dump(check_phrase(facts, text, weight_kg), tuple[Finding, ...])

    weight_kg = _weight("weight_kg", arguments.weight_kg)
    if arguments.phrase is not None:
        return _print({"findings": found(arguments.phrase, weight_kg)})
    told = []
    for number, line in enumerate(_text(arguments.phrases).splitlines(), 1):
        text, _, weighs = line.partition("\t")
        if not text.strip():
            continue
        own = weight_kg if not weighs.strip() else _weight(f"line {number}", weighs)
        told.append({"text": text, "findings": found(text, own)})
    return _print({"phrases": told})


def _weight(field: str, given: object) -> float | None:
    """A dog's weight in kg. Raises InputError for what is none."""
    if given is None:
        return None
    try:
        weight_kg = float(str(given))
    except ValueError:
        raise InputError(field, f"{given} is no weight in kg") from None
    if not 0 < weight_kg < math.inf:
        raise InputError(field, "a dog weighs more than 0 kg")
    return weight_kg


def _text(name: str) -> str:
    try:
        return _bytes(name).decode("utf-8")
    except UnicodeDecodeError as error:
        raise InputError("", f"cannot read {name} as text: {error}") from None


def _formulate(arguments: argparse.Namespace) -> int:
    from wainscot_core.formats.casefile import open_case
    from wainscot_core.formulation.case_file import formulate_case

    opened = open_case(reference.load(REFERENCE), _read(arguments.case))
    with _quiet_stdout():
        report = formulate_case(opened)
    return _print(report)


def _read_recipe(arguments: argparse.Namespace) -> int:
    from wainscot_core.formats.brought import bring
    from wainscot_core.transcribe.reading import transcribe

    if (arguments.file is None) == (arguments.phrase is None):
        raise InputError("", "give the path of a text, or --phrase with one line of it")
    measures, facts = Measures(arguments.measures), reference.load(REFERENCE)
    if arguments.file is None:
        return _print(transcribe(facts.matcher, arguments.phrase, measures, facts.methods))
    return _print(bring(facts, _bytes(arguments.file), measures))


def _bytes(name: str) -> bytes:
    if name == "-":
        return sys.stdin.buffer.read()
    path = Path(name)
    if not path.is_file():
        raise InputError("", f"there is no file {name}")
    try:
        return path.read_bytes()
    except OSError as error:
        raise InputError("", f"cannot read {name}: {error}") from None


@contextmanager
def _quiet_stdout() -> Iterator[None]:
    """Send what compiled code prints to standard error: HiGHS greets on standard output."""
    sys.stdout.flush()
    kept = os.dup(1)
    os.dup2(2, 1)
    try:
        yield
    finally:
        os.dup2(kept, 1)
        os.close(kept)


def _trend(arguments: argparse.Namespace) -> int:
    data = _read(arguments.log)
    log = read(WeightLog, data)
    found = trend(reference.load(REFERENCE), log, date.today())
    unknown = tuple(
        f"{path} is not a field that is known here" for path in unknown_fields(WeightLog, data)
    )
    return _print(replace(found, warnings=(*unknown, *found.warnings)))


def _energy(arguments: argparse.Namespace) -> int:
    rules = reference.load_energy(REFERENCE)
    found = by_multiplier(rules, arguments.weight_kg, arguments.multiplier)
    return _print(found)


def _demo(arguments: argparse.Namespace) -> int:
    from .serving import serve_demo

    return serve_demo(arguments.port, arguments.reset, arguments.yes)


def _serve(arguments: argparse.Namespace) -> int:
    from .serving import serve

    return serve(arguments.data, arguments.port, bind=arguments.bind)


def _backup(arguments: argparse.Namespace) -> int:
    from .backing_up import backup

    return backup(arguments.data, arguments.file)


def _restore(arguments: argparse.Namespace) -> int:
    from .backing_up import restore

    return restore(arguments.data, arguments.file, arguments.yes)


def _practices(arguments: argparse.Namespace) -> int:
    from .keeping_people import practices

    options = {k: getattr(arguments, k) for k in ("add", "owner", "region", "address")}
    return practices(arguments.data, options)


def _take_out(arguments: argparse.Namespace) -> int:
    from .keeping_people import take_out

    return take_out(arguments.data, arguments.file, {"practice": arguments.practice})


def _bring_in(arguments: argparse.Namespace) -> int:
    from .keeping_people import bring_in

    options = {name: getattr(arguments, name) for name in ("owner", "name", "address")}
    return bring_in(arguments.data, arguments.file, options)


def _let_in(arguments: argparse.Namespace) -> int:
    from .keeping_people import let_in

    return let_in(arguments.data, arguments.username, arguments.without_code, arguments.address)


def _test(arguments: argparse.Namespace) -> int:
    from .testing import run_tests

    return run_tests(arguments.only)


def _bench(arguments: argparse.Namespace) -> int:
    from .bench import run_bench

    return run_bench(browser_only=arguments.what == "browser")


def _soak(arguments: argparse.Namespace) -> int:
    from .soak import run_soak

    return run_soak(arguments.kills, arguments.seed)


def _build(arguments: argparse.Namespace) -> int:
    import tempfile

    from .composition.build import build
    from .composition.sources import fetch_packages

    out = REFERENCE / "composition"
    with tempfile.TemporaryDirectory() as folder:
        packages = arguments.packages or Path(folder)
        if arguments.packages is None:
            fetch_packages(packages)
        counts = build(packages, out / "inputs", REFERENCE / "nutrients.yaml", out)
    print(json.dumps(counts, indent=1))
    return 0


def _check_data(arguments: argparse.Namespace) -> int:
    from .checking import check_data, report, unreadable

    broken = unreadable(REFERENCE)
    if broken:
        print(json.dumps({"broken": broken}, indent=1))
        return 1
    found = check_data(REFERENCE)
    print(json.dumps(report(found), indent=1))
    return 1 if found.failures else 0


def _lock(arguments: argparse.Namespace) -> int:
    from .testing import lock

    return lock()


def _generate(arguments: argparse.Namespace) -> int:
    from .testing import generate

    return generate()


if __name__ == "__main__":
    sys.exit(main())
