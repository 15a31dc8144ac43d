"""Count Python lines and say how many of them are tests: ``make size``."""

from pathlib import Path

ROOT = Path(__file__).parent.parent


def lines(folder: str) -> int:
    files = [path for path in (ROOT / folder).rglob("*.py") if "songs" not in path.parts]  # pupils' programs
    return sum(len(path.read_text("utf-8").splitlines()) for path in files)


if __name__ == "__main__":
    counts = {folder: lines(folder) for folder in ("src", "tests", "benchmarks", "scripts", "teaching")}
    total = sum(counts.values())
    for folder, count in counts.items():
        print(f"{folder:<12} {count:>7,} lines  {count / total:6.1%}")
    print(f"{'all':<12} {total:>7,} lines")
