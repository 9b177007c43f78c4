"""The program's memory: all threads take from one heap."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest

from tests.program import Program

HEAPS = """
import ctypes, sys, threading
from inkthread.collector import share_one_heap
if "share" in sys.argv:
    share_one_heap()
import numpy as np
threads = [threading.Thread(target=lambda: np.ones((300, 300)) @ np.ones((300, 300))) for _ in range(8)]
for one in threads: one.start()
for one in threads: one.join()
libc = ctypes.CDLL(None)
libc.fopen.restype = ctypes.c_void_p
out = libc.fopen(b"/dev/stdout", b"w")
libc.malloc_info(0, ctypes.c_void_p(out))
libc.fclose(ctypes.c_void_p(out))
"""


@pytest.mark.skipif(
    not sys.platform.startswith("linux"), reason="a heap a thread is a habit of its C library"
)
def test_threads_share_one_heap_where_it_is_asked_for_before_the_first():
    def heaps(*how: str) -> int:
        told = subprocess.run([sys.executable, "-c", HEAPS, *how], capture_output=True, text=True, check=True)
        return told.stdout.count("<heap nr=")

    assert heaps("share") == 1 < heaps()


@pytest.mark.skipif(not sys.platform.startswith("linux"), reason="read from where Linux tells it")
def test_the_server_asks_for_it_in_time(tmp_path):
    program = Program("serve", "--port", "0", "--data", str(tmp_path / "d.db"))
    try:
        for _ in range(3):
            program.ask("/api/designs")
        maps = Path(f"/proc/{program.process.pid}/maps").read_text()
    finally:
        program.stop()
    starts = [int(line.split("-")[0], 16) for line in maps.splitlines() if " rw-p " in line]
    # A heap of a thread's own begins at a multiple of its largest size, 64 MiB (glibc, arena.c).
    assert [s for s in starts if s % (64 << 20) == 0] == []
