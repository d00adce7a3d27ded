#!/usr/bin/env python3
"""What a technician needs (docs/needs.md), and which of it is proved.

    tools/needs.py            what is open, by table
    tools/needs.py --check    the same; fails when a named proof does not exist

A row is proved when its last column names tests: "tst_file::function" (or "tst_file" for a whole file), separated by spaces.
"""
import pathlib
import re
import sys

root = pathlib.Path(__file__).resolve().parent.parent
tests = {}
for path in (root / "tests").rglob("tst_*.cpp"):
    tests[path.stem] = set(re.findall(r"^\s*void (\w+)\(\)", path.read_text(encoding="utf-8"), re.M))

total, opened, wrong, seen = {}, {}, [], set()
for number, line in enumerate((root / "docs/needs.md").read_text(encoding="utf-8").splitlines(), 1):
    match = re.match(r"\|\s*([A-Z]+)(\d+)\s*\|", line)
    if not match:
        continue
    table, row = match.group(1), match.group(1) + match.group(2)
    if row in seen:
        wrong.append(f"line {number}: {row} stands twice")
    seen.add(row)
    cells = [c.strip() for c in line.strip().strip("|").split("|")]
    if len(cells) != 5:
        wrong.append(f"line {number}: {row} has {len(cells)} columns, 5 were expected")
        continue
    total[table] = total.get(table, 0) + 1
    if not cells[4]:
        opened.setdefault(table, []).append(row)
    for proof in cells[4].split():
        name, _, function = proof.partition("::")
        if name not in tests:
            wrong.append(f"{row}: there is no test {name}")
        elif function and function not in tests[name]:
            wrong.append(f"{row}: {name} has no {function}")

for table, count in total.items():
    rows = opened.get(table, [])
    print(f"{table:3} {count - len(rows):3} of {count:3} proved" + (f"; open: {' '.join(rows)}" if rows else ""))
done = sum(total.values()) - sum(len(r) for r in opened.values())
print(f"{done} of {sum(total.values())} rows are proved.")
for line in wrong:
    print(line, file=sys.stderr)
sys.exit(1 if wrong and "--check" in sys.argv else 0)
