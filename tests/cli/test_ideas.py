"""``chickadee ideas`` as its contract has it."""

from __future__ import annotations

import soundfile

from chickadee.ideas.recipe import shipped


def test_tunes_are_printed_or_written_into_a_folder_in_each_form(run, tmp_path, tune):
    status, out, err = run("ideas", "--seed", "5")
    assert (status, err) == (0, "") and out.startswith("title: Practice tune 1\n")
    assert run("ideas", "--seed", "5")[1] == out != run("ideas", "--seed", "6")[1]
    assert run("ideas", "--list")[1].split() == list(shipped())
    for form in ("chick", "mid", "wav"):
        folder = tmp_path / form
        assert run("ideas", "first-five", "--count", "3", "--form", form, "-o", folder)[0] == 0
        assert sorted(path.name for path in folder.iterdir()) == [f"idea-0{place}.{form}" for place in (1, 2, 3)]
    assert soundfile.info(tmp_path / "wav" / "idea-01.wav").duration > 5
    first = (tmp_path / "chick" / "idea-01.chick").read_text()
    assert run("ideas", "first-five", "--count", "3", "-o", tmp_path / "chick")[0] == 2
    assert run("ideas", "first-five", "--count", "3", "-o", tmp_path / "chick", "--force")[0] == 0
    assert (tmp_path / "chick" / "idea-01.chick").read_text() == first


def test_a_recipe_of_one_s_own_a_tune_to_vary_and_refusals(run, tmp_path, tune):
    own = tmp_path / "own.toml"
    own.write_text('title = "Mine"\nbars = 4\nkey = "D major"\nlowest = "D4"\nhighest = "D5"\n')
    out = run("ideas", own)[1]
    assert out.startswith("title: Mine 1\n") and "key: D major" in out
    path = tune("meter: 3/4\nC4 E4 G4 | D4=3 |\n")
    assert "D4=3" in run("ideas", "--like", path, "--keep", "pitches")[1]
    own.write_text('bars = 4\nlengths = ["3"]\n')
    for words in (("ideas", own), ("ideas", "--like", path), ("ideas", "--count", "3"), ("ideas", "nothing"),
                  ("ideas", "--count", "2", "-o", own), ("ideas", "--like", tune("rest", "silent.chick"), "--keep", "rhythm")):  # fmt: skip
        status, out, err = run(*words)
        assert (status, out, len(err.splitlines())) == (2, "", 1)
    assert "lengths and meter collide" in run("ideas", own)[2]
