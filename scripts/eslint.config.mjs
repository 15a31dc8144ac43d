// How the script of pages that play is linted: `make lint` runs it where Node.js is installed.
const browser = [
  "Audio", "AudioContext", "Blob", "CSS", "OfflineAudioContext", "URL", "atob", "document", "requestAnimationFrame",
  "window",
];

export default [
  {
    files: ["**/*.js"],
    languageOptions: {
      ecmaVersion: 2022,
      sourceType: "script",
      globals: Object.fromEntries(browser.map((name) => [name, "readonly"])),
    },
    linterOptions: { reportUnusedDisableDirectives: "error" },
    rules: {
      "array-callback-return": "error",
      "consistent-return": "error",
      curly: "error",
      eqeqeq: "error",
      "no-dupe-keys": "error",
      "no-eval": "error",
      "no-implied-eval": "error",
      "no-redeclare": "error",
      "no-shadow": "error",
      "no-undef": "error",
      "no-unreachable": "error",
      "no-unused-vars": "error",
      "no-use-before-define": ["error", { functions: false, variables: false }],
      "no-var": "error",
      "prefer-const": "error",
      strict: ["error", "global"],
    },
  },
];
