#!/usr/bin/env bash
# Lint the script of pages that play, with ESLint from the npm registry; without Node.js it says so.
set -euo pipefail
cd "$(dirname "$0")/.."
if ! command -v npx >/dev/null; then
    echo "Node.js is not installed: src/chickadee/web/page.js was not linted."
    exit 0
fi
npx --yes --loglevel=error eslint@10.15.0 --max-warnings 0 --config scripts/eslint.config.mjs src/chickadee/web/page.js
