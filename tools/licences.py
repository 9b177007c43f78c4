"""Write what ships of others, under which licence, with each text: frontend/public/licences/."""

from __future__ import annotations

import json
import re
import sys
from importlib import metadata
from pathlib import Path

HOME = Path(__file__).resolve().parent.parent
MODULES = HOME / "frontend"
TARGET = HOME / "frontend/public/licences"
_NAMES = re.compile(r"(?i)^(licen[cs]e|copying|notice)")


def screen_packages() -> dict[str, tuple[str, str, str]]:
    """Packages built into the screen: name to version, licence, text."""
    locked = json.loads((HOME / "frontend/package-lock.json").read_text(encoding="utf-8"))["packages"]
    found = {}
    for path, entry in sorted(locked.items()):
        if not path or entry.get("dev") or entry.get("optional") or entry.get("peer"):
            continue
        folder = MODULES / path
        texts = sorted(p for p in folder.iterdir() if _NAMES.match(p.name) and p.is_file())
        text = texts[0].read_text(encoding="utf-8").strip() if texts else ""
        found[path.removeprefix("node_modules/")] = (entry["version"], entry.get("license", ""), text)
    return found


def python_packages() -> dict[str, tuple[str, str, str]]:
    """Packages that the program runs on: name to version, licence, text."""
    found: dict[str, tuple[str, str, str]] = {}

    def walk(name: str) -> None:
        name = re.sub(r"[-_.]+", "-", name).lower()
        if name in found:
            return
        try:
            package = metadata.distribution(name)
        except metadata.PackageNotFoundError:
            return
        said = package.metadata
        by_class = [c.rpartition(" :: ")[2] for c in said.get_all("Classifier") or [] if "License" in c]
        licence = (said.get_all("License-Expression") or by_class or said.get_all("License") or [""])[0]
        texts = sorted(f for f in package.files or [] if _NAMES.match(f.name) and "dist-info" in str(f))
        text = Path(str(texts[0].locate())).read_text(encoding="utf-8").strip() if texts else ""
        found[name] = (package.version, licence, text)
        for needed in package.requires or []:
            if "extra ==" not in needed:
                walk(re.split(r"[^A-Za-z0-9_.-]", needed)[0])

    for line in (HOME / "requirements/run.txt").read_text(encoding="utf-8").splitlines():
        if line.strip() and not line.startswith("#"):
            walk(re.split(r"[^A-Za-z0-9_.-]", line)[0])
    return dict(sorted(found.items()))


def fonts_text() -> str:
    """The fonts' licences, each with its copyright."""
    parts = [
        f"{name} {version}\n\n{text}"
        for name, (version, _, text) in screen_packages().items()
        if name.startswith("@fontsource")
    ]
    return "Fonts that ship with Ink Thread\n\n" + f"\n\n{'=' * 72}\n\n".join(parts) + "\n"


def list_text() -> str:
    """Every package with its licence, then each text once with the packages it goes for."""
    packages = {**python_packages(), **screen_packages()}
    lines = ["What Ink Thread is built with, and under which licence", ""]
    lines += [
        f"{name} {version}: {licence or 'see its text'}" for name, (version, licence, _) in packages.items()
    ]
    of_text: dict[str, list[str]] = {}
    for name, (_, _, text) in packages.items():
        if text:
            of_text.setdefault(text, []).append(name)
    for text, names in of_text.items():
        lines += ["", "=" * 72, ", ".join(names), "", text]
    return "\n".join(lines) + "\n"


def main() -> int:
    """Write both files."""
    TARGET.mkdir(parents=True, exist_ok=True)
    (TARGET / "fonts.txt").write_text(fonts_text(), encoding="utf-8")
    (TARGET / "third-party.txt").write_text(list_text(), encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
