"""A real PostgreSQL server for the tests, started in a folder of its own and stopped after them."""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
import tempfile
from pathlib import Path

import pytest

from urial.shop.book import Book


def _programs() -> Path | None:
    """Where a server's programs lie: Debian keeps them out of the path."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), reverse=True)
    plain = shutil.which("initdb")
    return found[0].parent if found else Path(plain).parent if plain else None


def _as_nobody(folder: Path) -> list[str]:
    """A server does not run as root: words before a command that make it somebody else's, and the folder
    theirs.
    """
    if os.getuid() != 0:
        return []
    user = next((u for u in ("postgres", "nobody") if _known(u)), "nobody")
    shutil.chown(folder, user)
    return ["setpriv", f"--reuid={user}", "--clear-groups", "env", f"HOME={folder}"]


def _known(user: str) -> bool:
    try:
        pwd.getpwnam(user)
    except KeyError:
        return False
    return True


@pytest.fixture(scope="session")
def server():
    """The folder with the server's socket."""
    programs = _programs()
    assert programs is not None, "PostgreSQL is missing: ./run test says which package to install"
    folder = Path(tempfile.mkdtemp(prefix="pg-", dir="/tmp"))
    folder.chmod(0o755)
    data = folder / "data"
    before = _as_nobody(folder)

    def do(*words):
        subprocess.run([*before, *map(str, words)], check=True, capture_output=True, cwd=folder)

    do(programs / "initdb", "-D", data, "-U", "shop", "-A", "trust", "--no-sync", "-E", "UTF8")
    options = f"-c listen_addresses='' -c unix_socket_directories={folder} -c fsync=off -c max_connections=40"
    do(programs / "pg_ctl", "-D", data, "-w", "-l", folder / "log", "-o", options, "start")
    yield folder
    subprocess.run(
        [*before, programs / "pg_ctl", "-D", data, "-m", "immediate", "stop"],
        capture_output=True,
        check=False,
    )
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture
def another(server):
    """Makes the address of one new database on the server after the other."""
    import psycopg

    def made(_=0):
        with psycopg.connect(f"host={server} user=shop dbname=postgres", autocommit=True) as c:
            name = f"shop{c.execute('SELECT count(*) FROM pg_database').fetchone()[0]}"
            c.execute(f"CREATE DATABASE {name}")
        return f"postgresql+psycopg://shop@/{name}?host={server}"

    return made


@pytest.fixture
def empty(another):
    """The address of a new database on the server."""
    return another()


@pytest.fixture(params=["sqlite", "postgresql"])
def address(request, tmp_path):
    """Where a new book lies, in either database."""
    if request.param == "sqlite":
        return f"sqlite:///{tmp_path / 'shop.db'}"
    return request.getfixturevalue("empty")


@pytest.fixture
def book(address):
    """A new book in either database."""
    made = Book(address)
    yield made
    made.close()
