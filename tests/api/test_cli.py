"""The command: what it refuses, on stderr with exit code 2, and that it leaves nothing behind."""

import os
import signal
import socket
import subprocess
import sys
from pathlib import Path

import pytest

from next_penny.cli import main


def test_a_port_in_use(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        assert main(["serve", "--port", str(port), "--file", str(tmp_path / "home.sqlite3")]) == 2
    assert f"port {port}" in capsys.readouterr().err
    assert not (tmp_path / "home.sqlite3").exists()


def test_a_file_that_is_no_household(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    (tmp_path / "notes.txt").write_text("milk, bread, " * 100)
    assert main(["serve", "--port", "0", "--file", str(tmp_path / "notes.txt")]) == 2
    assert "not an SQLite file" in capsys.readouterr().err


@pytest.mark.parametrize("words", [["serve", "--today", "2027-02-30"], ["serve", "--port", "web"], ["fly"], []])
def test_words_it_does_not_know(words: list[str], capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit) as stopped:
        main(words)
    assert stopped.value.code == 2
    assert "next-penny" in capsys.readouterr().err


@pytest.mark.parametrize("way_to_stop", [signal.SIGINT, signal.SIGTERM])
def test_a_stopped_demo_leaves_nothing_behind(way_to_stop: signal.Signals, tmp_path: Path) -> None:
    words = [sys.executable, "-m", "next_penny.cli", "demo", "--port", "0"]
    pipe, here = subprocess.PIPE, os.environ | {"TMPDIR": str(tmp_path)}
    with subprocess.Popen(words, stdout=pipe, stderr=pipe, text=True, env=here) as demo:
        assert demo.stdout is not None
        assert "is open at http://127.0.0.1:" in demo.stdout.readline()
        assert list(tmp_path.iterdir())
        demo.send_signal(way_to_stop)
        _, said = demo.communicate()
    assert (demo.returncode, said, list(tmp_path.iterdir())) == (0, "", [])
