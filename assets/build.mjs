// Builds internal/web/static from the sources here: styles by Tailwind, Alpine
// and the fonts as they come, our script put together from its modules by esbuild. The manifest holds the hash
// of every source and of every built file, so that a test without Node can
// tell when somebody forgot to build.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { cpSync, mkdirSync, readFileSync, readdirSync, writeFileSync, rmSync } from "node:fs";
import { dirname, join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import { buildSync } from "esbuild";

const here = dirname(fileURLToPath(import.meta.url));
const root = dirname(here);
const out = process.argv[2] ?? join(root, "internal/web/static");
const modules = join(here, "node_modules");

rmSync(out, { recursive: true, force: true });
mkdirSync(join(out, "fonts"), { recursive: true });
execFileSync(process.execPath, [join(modules, "@tailwindcss/cli/dist/index.mjs"), "-i", join(here, "app.css"), "-o", join(out, "app.css"), "--minify"], { stdio: ["ignore", "ignore", "inherit"], cwd: here });
buildSync({ absWorkingDir: here, entryPoints: ["src/main.js"], bundle: true, format: "iife", target: "es2022", legalComments: "none", outfile: join(out, "app.js") });
cpSync(join(here, "sw.js"), join(out, "sw.js"));
cpSync(join(modules, "@alpinejs/csp/dist/cdn.min.js"), join(out, "alpine.js"));
const fonts = {
  "atkinson-latin.woff2": "@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2",
  "atkinson-latin-ext.woff2": "@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2",
  "literata-latin.woff2": "@fontsource-variable/literata/files/literata-latin-wght-normal.woff2",
  "literata-latin-italic.woff2": "@fontsource-variable/literata/files/literata-latin-wght-italic.woff2",
};
for (const [name, from] of Object.entries(fonts)) cpSync(join(modules, from), join(out, "fonts", name));
for (const [name, from] of Object.entries({ alpine: "@alpinejs/csp", atkinson: "@fontsource-variable/atkinson-hyperlegible-next", literata: "@fontsource-variable/literata" })) {
  for (const licence of ["LICENSE", "LICENSE.md"]) {
    try { cpSync(join(modules, from, licence), join(out, `LICENSE-${name}.txt`)); break; } catch { /* the other name */ }
  }
}

// The accessibility checker that the browser tests run in the page; not served.
if (!process.argv[2]) {
  mkdirSync(join(root, "internal/web/testdata"), { recursive: true });
  cpSync(join(modules, "axe-core/axe.min.js"), join(root, "internal/web/testdata/axe.min.js"));
}

const hash = (file) => createHash("sha256").update(readFileSync(file)).digest("hex");
const files = (dir, keep) => readdirSync(dir, { recursive: true, withFileTypes: true }).filter((f) => f.isFile()).map((f) => join(f.parentPath ?? f.path, f.name)).filter(keep).sort();
const sources = [
  ...["app.css", "sw.js", "build.mjs", "package-lock.json"].map((f) => join(here, f)),
  ...files(join(here, "src"), (f) => f.endsWith(".js")),
  ...files(join(root, "internal/web"), (f) => f.endsWith(".html")),
];
const lines = [
  ...sources.map((f) => `source ${hash(f)} ${relative(root, f)}`),
  ...files(out, (f) => !f.endsWith("MANIFEST")).map((f) => `built ${hash(f)} ${relative(out, f)}`),
];
writeFileSync(join(out, "MANIFEST"), lines.join("\n") + "\n");
