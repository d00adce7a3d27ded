#!/usr/bin/env python3
"""Compile commands that clang-tidy can use, from those of a build: one to each source file where the build takes several
files together, and a plain copy of each header that gcc has compiled beforehand, for clang cannot read those.

tidycommands.py BUILD OUT
"""
import json
import pathlib
import re
import shutil
import sys


def main() -> None:
    build, out = pathlib.Path(sys.argv[1]).resolve(), pathlib.Path(sys.argv[2]).resolve()
    out.mkdir(parents=True, exist_ok=True)
    commands = []
    for entry in json.loads((build / "compile_commands.json").read_text()):
        together = pathlib.Path(entry["file"])
        if "/Unity/" not in entry["file"]:
            commands.append(entry)
            continue
        for source in re.findall(r'#include "([^"]+)"', together.read_text()):
            commands.append({**entry, "file": source, "command": entry["command"].replace(entry["file"], source)})
    text = json.dumps(commands, indent=1)
    for header in build.rglob("cmake_pch.hxx"):
        copy = out / f"{header.parent.name}-{header.name}"
        shutil.copy(header, copy)
        text = text.replace(str(header), str(copy))
    (out / "compile_commands.json").write_text(text)


if __name__ == "__main__":
    main()
