// Bundles what runs on a phone, and tells the worker which files it keeps.
import { build } from "esbuild";
import { createHash } from "node:crypto";
import { readFileSync, readdirSync } from "node:fs";
import { join } from "node:path";

const root = process.argv[2];
const gen = join(root, "gen");
const hash = (file) => createHash("sha256").update(readFileSync(file)).digest("hex").slice(0, 16);
const common = { bundle: true, minify: true, format: "iife", target: "es2022", logLevel: "warning" };

await build({ ...common, entryPoints: ["phone/phone.js"], outfile: join(gen, "phone.js") });

// The names of the phone's build carry their own hash, but for the one that starts it.
const rules = readdirSync(join(gen, "phone")).filter((x) => !x.endsWith(".br") && !x.startsWith("."));
const kept = [
  ...["app.css", "htmx.min.js", "nippers.js", "phone.js"].map((x) => `gen/${x}`),
  ...readdirSync(join(gen, "fonts")).map((x) => `gen/fonts/${x}`),
  ...rules.map((x) => `gen/phone/${x}`),
  "mark.svg",
].map((x) => ({ url: `/${x}`, revision: hash(join(root, x)) }));

// The empty page is made by the server from the same build: it changes when any of these does.
const shell = createHash("sha256").update(JSON.stringify(kept)).digest("hex").slice(0, 16);
await build({
  ...common,
  entryPoints: ["phone/worker.js"],
  outfile: join(root, "worker.js"),
  define: { KEPT: JSON.stringify([...kept, { url: "/phone", revision: shell }]), "process.env.NODE_ENV": '"production"' },
});
