"""Many files by several processes: the same as by one."""

from __future__ import annotations

import pickle
import signal
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from stilo import reformat
from stilo.run.find import Target
from stilo.run.many import Applied, Options, Outcome, apply_all

FILES = {
    **{f"lane{n}.py": f"berth = [{n},{n}]\n" for n in range(12)},
    "bad.py": "berth = (\n",
    "in_style.py": "berth = 4\n",
    "stilo.toml": 'skip = ["lane3.py"]\n[python]\nitems.wrap = "flow"\n',
}


def outcomes(run, *options: str) -> str:
    done = run("apply", ".", *options)
    assert done.exit_code == 2
    return done.output


@pytest.mark.parametrize("jobs", ["1", "3"])
def test_results_are_the_same_and_in_order(place, run, jobs: str) -> None:
    folder: Path = place(FILES)
    told = outcomes(run, "--jobs", jobs).splitlines()
    laid_out = sorted(f"lane{n}.py: laid out, 1 line" for n in range(12) if n != 3)
    assert (
        [line for line in told if ": laid out," in line]
        == [*laid_out, "stilo.toml: laid out, 2 lines"]
    )
    said, lines, seconds = told[-1].rsplit("; ", 2)
    assert said == "laid out: 12; in style before: 1; refused: 1; passed over: 1 skipped"
    assert lines == "lines: 13" and seconds.endswith(" s")
    assert (folder / "lane3.py").read_text() == FILES["lane3.py"]
    assert (folder / "lane4.py").read_text() == "berth = [4, 4]\n"
    assert (folder / "bad.py").read_text() == FILES["bad.py"]
    assert "bad.py:1:10: syntax error" in "\n".join(told)
    assert "laid out: 0; in style before: 13" in outcomes(run, "--jobs", jobs)


def test_any_executor_will_do_and_a_style_is_read_anew_in_each_run(place) -> None:
    folder: Path = place({"a.py": "x = f(1,2)\n", "stilo.toml": 'comma.after = "none"\n'})
    with ThreadPoolExecutor(2) as executor:
        (before,) = apply_all([Target("a.py")], Options(), executor)
        (folder / "stilo.toml").write_text("")
        (after,) = apply_all([Target("a.py")], Options(), executor)
    assert before.found == Applied(False) and after.found == Applied(True, 1)
    assert (folder / "a.py").read_text() == "x = f(1, 2)\n"


def test_options_say_what_the_command_line_says(place) -> None:
    folder: Path = place({"a.txt": "x=1\ny=[2,\n3]\n"})
    options = Options((("binary-operator.before", "none"),), "default", "python", None, ((1, 1),))
    (outcome,) = apply_all([Target("a.txt")], pickle.loads(pickle.dumps(options)))
    assert (
        outcome == Outcome("a.txt", Applied(True, 1))
        and pickle.loads(pickle.dumps(outcome)) == outcome
    )
    assert (folder / "a.txt").read_text() == "x= 1\ny=[2,\n3]\n"


def test_a_fault_of_ours_stops_nothing(place, monkeypatch: pytest.MonkeyPatch) -> None:
    place({"a.py": "", "b.py": "x=1\n"})
    from stilo.run import many

    def broken(data, style, **others):
        if style.path == "a.py":
            raise KeyError("tide")
        return plain(data, style, **others)

    plain = many.reformat_styled
    monkeypatch.setattr(many, "reformat_styled", broken)
    first, second = apply_all([Target("a.py"), Target("b.py")], Options())
    assert (
        first.errors
        == ["a.py: a fault of Stilo (KeyError: 'tide'); left as it was; please report it"]
    )
    assert second.found == Applied(True, 1)


def test_names_from_a_list(place, run) -> None:
    place({"a.py": "x=1\n", "b c.py": "x=1\n", "list": "a.py\n\nb c.py\n", "d.py": "x=1\n"})
    assert "laid out: 2" in run("apply", "--files-from", "list").output
    assert "laid out: 1" in run("apply", "--files-from", "-", text=b"a.py\0d.py\0").output
    assert run("proof", "--files-from", "-", text=b"").exit_code == 0
    assert "name files or folders" in run("proof").output


def test_arrange_and_proof_take_folders_too(place, run) -> None:
    place({"a/b.py": "import b\nimport a\n", "a/c.json": "{}\n", "a/d.txt": ""})
    assert "1 in no language" in run("proof", ".").output
    done = run("arrange", ".")
    assert done.exit_code == 0 and "put in order: 1; in order before: 1" in done.output


def test_preview_shows_a_skipped_file_as_it_is(place, run) -> None:
    place({"a.py": "x=1\n", "stilo.toml": 'skip = ["a.py"]\n'})
    done = run("preview", "a.py")
    assert done.stdout == "x=1\n" and "skipped by stilo.toml:1; shown as it is" in done.stderr


@pytest.mark.parametrize(
    ("number", "wait"),
    [
        (signal.SIGINT, 0.15),
        (signal.SIGINT, 0.6),
        (signal.SIGTERM, 0.35),
        (signal.SIGKILL, 0.35),
        (signal.SIGKILL, 0.6),
    ]
)
def test_whenever_it_is_stopped_each_file_is_whole(place, number: int, wait: float) -> None:
    """Stopped at some moment, by several signals: old or new, and the next run ends the work."""
    old = "berth = [\n" + "".join(f"  {n},{n},\n" for n in range(300)) + "]\n"
    folder: Path = place({f"lane{n}.py": old for n in range(60)})
    command = [sys.executable, "-m", "stilo", "apply", ".", "--jobs", "2"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT) as process:
        time.sleep(wait)
        process.send_signal(number)
        told = process.communicate(timeout=60)[0].decode()  # until the last process is gone
    assert "Traceback" not in told
    new = reformat(old, "python").text
    assert {path.read_text() for path in folder.iterdir()} <= {old, new}
    assert subprocess.run(command, capture_output=True, check=False).returncode == 0
    assert (
        {path.name: path.read_text() for path in folder.iterdir()}
        == {f"lane{n}.py": new for n in range(60)}
    )


def test_the_work_may_be_done_from_another_folder(place, tmp_path_factory, monkeypatch) -> None:
    folder: Path = place(
        {"a.py": "x=1\n", "stilo.toml": "[python]\nbinary-operator.before = \"none\"\n"}
    )
    options = Options(folder=str(folder))
    monkeypatch.chdir(tmp_path_factory.mktemp("elsewhere"))  # as a worker of a cluster stands
    changed, missing = apply_all([Target("a.py"), Target("b.py")], options)
    assert changed == Outcome("a.py", Applied(True, 1), entry=changed.entry)
    assert (folder / "a.py").read_text() == "x= 1\n"
    assert missing.errors == ["b.py: no such file"]


def test_two_runs_at_once_come_to_what_one_does(place) -> None:
    folder: Path = place({f"lane{n}.py": f"berth=[{n},{n}]\n" * 40 for n in range(40)})
    command = [sys.executable, "-m", "stilo", "apply", ".", "--jobs", "2"]
    runs = [subprocess.Popen(command, stdout=-3, stderr=subprocess.PIPE) for _ in range(3)]
    said = [run.communicate(timeout=60)[1].decode() for run in runs]
    assert [run.returncode for run in runs] == [0, 0, 0], said
    for number in range(40):
        assert (folder / f"lane{number}.py").read_text() == f"berth = [{number}, {number}]\n" * 40
    assert len(list(folder.iterdir())) == 40


def test_a_file_that_is_edited_while_it_is_laid_out_is_not_written(place, monkeypatch) -> None:
    folder: Path = place({"a.py": "x=1\n", "b.py": "y=1\n"})
    from stilo.run import many

    plain = many.reformat_styled

    def edited(data, style, **others):
        if style.path == "a.py":
            (folder / "a.py").write_text("x=2  # by an editor\n")
        return plain(data, style, **others)

    monkeypatch.setattr(many, "reformat_styled", edited)
    first, second = apply_all([Target("a.py"), Target("b.py")], Options())
    assert first.errors == ["a.py: cannot be written: it was changed meanwhile; left as it was"]
    assert (folder / "a.py").read_text() == "x=2  # by an editor\n" and second.found.is_changed


CLUSTER = """
import sys
from distributed import LocalCluster
from stilo.__main__ import main

if __name__ == "__main__":
    with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None) as cluster:
        sys.argv = ["stilo", *sys.argv[1:], "--cluster", cluster.scheduler_address]
        main()
"""


def test_a_cluster_does_what_one_process_does(place, tmp_path_factory) -> None:
    pytest.importorskip("distributed")
    folder: Path = place({**FILES, "house.toml": "indent = 2\n"})
    script = tmp_path_factory.mktemp("cluster") / "run.py"
    script.write_text(CLUSTER)
    command = [sys.executable, script, "apply", ".", "--style", "house.toml"]
    done = subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)
    said = "laid out: 12; in style before: 2; refused: 1; passed over: 1 skipped"
    assert done.returncode == 2 and said in done.stderr, done.stderr
    assert (folder / "lane4.py").read_text() == "berth = [4, 4]\n"


def test_a_cluster_that_does_not_answer(place, run, monkeypatch: pytest.MonkeyPatch) -> None:
    place({"a.py": "x=1\n"})
    done = run("apply", "a.py", "--cluster", "nowhere://1")
    assert done.exit_code == 2 and "nowhere://1: no scheduler answers" in done.output
    assert "exclude each other" in run("apply", "a.py", "--cluster", "x", "--jobs", "2").output
    monkeypatch.setitem(sys.modules, "distributed", None)
    done = run("proof", "a.py", "--cluster", "x")
    assert done.exit_code == 2 and 'pip install "stilo[cluster]"' in done.output
