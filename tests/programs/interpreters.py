"""Programs run by the real interpreters and compilers of this machine, with stand-ins that note what they are given."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import sys
from dataclasses import dataclass, field
from pathlib import Path

CORPUS = Path(__file__).parent / "corpus"
VERBS = ("play", "rest", "wait")
TIMEOUT = 120  # seconds


@dataclass
class Ran:
    """What a program asked for when it was really run."""

    calls: list[tuple[str, list[object], int]] = field(default_factory=list)
    """The verb, what it was given, and the line."""
    fault_line: int | None = None


def programs(language: str) -> dict[str, str]:
    """The programs of the corpus, by their names."""
    text = (CORPUS / f"{language}.txt").read_text("utf-8")
    parts = re.split(r"(?m)^==== (.+)\n", text)[1:]
    return dict(zip(parts[::2], parts[1::2], strict=True))


def has(*commands: str) -> bool:
    """Return whether this machine has some commands."""
    return all(shutil.which(command) for command in commands)


def run(command: list[str], text: str = "", folder: Path | None = None) -> str:
    """Run a command and return what it prints."""
    made = subprocess.run(
        command, input=text, capture_output=True, text=True, timeout=TIMEOUT, cwd=folder, check=False
    )
    assert made.returncode == 0, made.stderr[-3000:]
    return made.stdout


def _read(printed: str) -> dict[str, Ran]:
    found = {}
    for line in printed.splitlines():
        record = json.loads(line)
        calls = [(verb, list(given), number) for verb, given, number in record["calls"]]
        found[record["name"]] = Ran(calls, record.get("fault"))
    return found


PYTHON = """
import json, sys, time, traceback
def ran(name, text):
    calls = []
    def stand_in(verb):
        def called(*given):
            calls.append((verb, given, sys._getframe(1).f_lineno))
        return called
    time.sleep = stand_in("sleep")
    names = {verb: stand_in(verb) for verb in ("play", "rest", "wait")}
    names["__name__"] = "__main__"
    fault = None
    try:
        exec(compile(text, "program", "exec"), names)
    except Exception as problem:
        fault = [each.lineno for each in traceback.extract_tb(problem.__traceback__) if each.filename == "program"][-1]
    print(json.dumps({"name": name, "calls": calls, "fault": fault}))
for name, text in json.load(sys.stdin).items():
    ran(name, text)
"""


def python(texts: dict[str, str]) -> dict[str, Ran]:
    """Run programs in Python."""
    return _read(run([sys.executable, "-c", PYTHON], json.dumps(texts)))


JAVASCRIPT = r"""
const vm = require("vm");
const texts = JSON.parse(require("fs").readFileSync(0, "utf-8"));
async function ran(name, text) {
  const calls = [], timers = [];
  let now = 0, order = 0;
  const standIn = verb => (...given) => {
    const line = +/program\.js:(\d+)/.exec(new Error().stack)[1];
    calls.push([verb, given.map(x => x === undefined ? null : x), line]);
  };
  const later = every => (f, ms, ...given) => {
    timers.push({ at: now + (ms || 0), order: order++, f, given, every: every ? ms : null });
    return order - 1;
  };
  const stopped = new Set(), stop = number => stopped.add(number);
  const names = { console: { log() {} }, setTimeout: later(false), setInterval: later(true), clearTimeout: stop, clearInterval: stop };
  for (const verb of ["play", "rest", "wait"]) names[verb] = standIn(verb);
  let fault = null;
  try {
    vm.runInNewContext(text, names, { filename: "program.js" });
    for (let i = 0; i < 50; i++) await null;
    while (timers.length) {
      timers.sort((a, b) => a.at - b.at || a.order - b.order);
      const each = timers.shift();
      if (stopped.has(each.order)) continue;
      now = each.at;
      each.f(...each.given);
      if (each.every !== null && !stopped.has(each.order)) timers.push({ ...each, at: now + each.every });
      for (let i = 0; i < 20; i++) await null;
    }
  } catch (problem) {
    fault = +/program\.js:(\d+)/.exec(problem.stack)[1];
  }
  console.log(JSON.stringify({ name, calls, fault }));
}
(async () => { for (const [name, text] of Object.entries(texts)) await ran(name, text); })();
"""


def javascript(texts: dict[str, str]) -> dict[str, Ran]:
    """Run programs in JavaScript."""
    return _read(run(["node", "-e", JAVASCRIPT], json.dumps(texts)))


C_HEAD = r"""
#include <stdio.h>
static int first_call = 1, first_given;
static void begin(const char *verb) { printf("%s[\"%s\", [", first_call ? "" : ", ", verb); first_call = 0; first_given = 1; }
static void comma(void) { if (!first_given) printf(", "); first_given = 0; }
static void number(double x) { comma(); printf("%.17g", x); }
static void text(const char *x) { comma(); printf("\"%s\"", x); }
static void end(int line) { printf("], %d]", line); }
#define GIVEN(x) _Generic((x), char *: text, const char *: text, default: number)(x)
#define ONE(verb, a) (begin(verb), GIVEN(a), end(__LINE__))
#define TWO(verb, a, b) (begin(verb), GIVEN(a), GIVEN(b), end(__LINE__))
#define CHOSEN(_1, _2, which, ...) which
#define NOTED(verb, ...) CHOSEN(__VA_ARGS__, TWO, ONE, 0)(verb, __VA_ARGS__)
#define play(...) NOTED("play", __VA_ARGS__)
#define rest(...) NOTED("rest", __VA_ARGS__)
#define wait(...) NOTED("wait", __VA_ARGS__)
#define printf_noise(...) 0
"""


def c(texts: dict[str, str], folder: Path) -> dict[str, Ran]:
    """Compile and run programs in C."""
    (folder / "stand_ins.h").write_text(C_HEAD)
    found = {}
    for place, (name, text) in enumerate(texts.items()):
        source = folder / f"program{place}.c"
        source.write_text(text)
        made = folder / f"program{place}"
        run(["gcc", "-std=gnu11", "-w", "-include", "stand_ins.h", "-o", str(made), str(source)], folder=folder)
        printed = re.sub(r"over\n", "", run([str(made)]))
        found[name] = Ran([(verb, given, line) for verb, given, line in json.loads(f"[{printed}]")])
    return found


CPP_HEAD = r"""
#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>
#include <string>
#include <utility>
#include <vector>
#include <iostream>
static std::string shown(double x) { std::ostringstream out; out.precision(17); out << x; return out.str(); }
static std::string shown(const std::string &x) { return '"' + x + '"'; }
static std::string shown(const char *x) { return shown(std::string(x)); }
static bool first_call;
template <class... T> void noted(int line, const char *verb, T... given) {
    std::string all;
    ((all += (all.empty() ? "" : ", ") + shown(given)), ...);
    std::cout << (first_call ? "" : ", ") << "[\"" << verb << "\", [" << all << "], " << line << "]";
    first_call = false;
}
#define play(...) noted(__LINE__, "play", __VA_ARGS__)
#define rest(...) noted(__LINE__, "rest", __VA_ARGS__)
"""


def cpp(texts: dict[str, str], folder: Path) -> dict[str, Ran]:
    """Compile and run programs in C++, all of them in one go."""
    parts = [CPP_HEAD]
    for place, (_, text) in enumerate(texts.items()):
        body = re.sub(r"(?m)^#include.*$", "", text).replace("int main(", "int entry(")
        parts.append(f"namespace program{place} {{\n#line 1\n{body}\n}}\n")
    calls = "".join(
        f'    std::cout << "{{\\"name\\": \\"{name}\\", \\"calls\\": ["; first_call = true; program{place}::entry(); '
        'std::cout << "]}\\n";\n'
        for place, name in enumerate(texts)
    )
    (folder / "all.cpp").write_text("".join(parts) + f"int main() {{\n{calls}}}\n")
    run(["g++", "-std=c++17", "-w", "-O0", "-o", "all", "all.cpp"], folder=folder)
    return _read(run([str(folder / "all")]))


JAVA_SOUND = """
import java.util.*;
public class Sound {
    static StringBuilder calls = new StringBuilder();
    static void noted(String verb, Object... given) {
        String program = Runner.program + ".java";
        int line = StackWalker.getInstance().walk(frames -> frames.filter(f -> program.equals(f.getFileName())).findFirst().get().getLineNumber());
        StringJoiner all = new StringJoiner(", ");
        for (Object each : given) all.add(each instanceof Number ? each.toString() : "\\"" + each + "\\"");
        calls.append(calls.length() > 0 ? ", " : "").append("[\\"" + verb + "\\", [" + all + "], " + line + "]");
    }
    public static void play(Object... given) { noted("play", given); }
    public static void rest(Object... given) { noted("rest", given); }
}
"""
JAVA_RUNNER = """
public class Runner {
    static String program;
    public static void main(String[] names) throws Exception {
        for (String name : names) {
            program = name;
            Sound.calls = new StringBuilder();
            String fault = "null";
            try {
                java.lang.reflect.Method entry = Class.forName(name).getDeclaredMethod("main", String[].class);
                entry.setAccessible(true);
                entry.invoke(null, (Object) new String[0]);
            } catch (java.lang.reflect.InvocationTargetException problem) {
                for (StackTraceElement each : problem.getCause().getStackTrace())
                    if (fault.equals("null") && (name + ".java").equals(each.getFileName())) fault = "" + each.getLineNumber();
            }
            System.out.println("{\\"name\\": \\"" + name + "\\", \\"calls\\": [" + Sound.calls + "], \\"fault\\": " + fault + "}");
        }
    }
}
"""


def java(texts: dict[str, str], folder: Path) -> dict[str, Ran]:
    """Compile and run programs in Java, all of them in one go."""
    (folder / "Sound.java").write_text(JAVA_SOUND)
    (folder / "Runner.java").write_text(JAVA_RUNNER)
    for name, text in texts.items():
        (folder / f"{name}.java").write_text(text)
    sources = [f"{name}.java" for name in ("Sound", "Runner", *texts)]
    run(["javac", "-nowarn", "-d", "out", *sources], folder=folder)
    return _read(run(["java", "-cp", "out", "Runner", *texts], folder=folder))
