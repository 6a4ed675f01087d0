// THIRD-PARTY.md: every package whose code or fonts ship with the app, with its licence. `node scripts/third-party.mjs` writes it.
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const root = fileURLToPath(new URL("..", import.meta.url));
/** Workspaces whose dependencies ship; what only builds and tests need stays away. */
const SHIPPED = ["core", "contract", "runner", "venue", "server", "cli", "web", "demo"];

const read = (file) => JSON.parse(readFileSync(file, "utf8"));

/** The folder of a package as Node finds it from another. */
function folderOf(name, from) {
  for (let at = from; ; at = dirname(at)) {
    const folder = join(at, "node_modules", name);
    if (existsSync(join(folder, "package.json"))) return folder;
    if (at === dirname(at)) return null;
  }
}

const licenceOf = ({ license, licenses }) =>
  typeof license === "string" ? license : (license?.type ?? licenses?.map(({ type }) => type).join(" OR ") ?? "not said");

/** Whose it is: of the first line of the licence's text that says so, else the author's name. */
function ownerOf(folder, { author }) {
  const file = readdirSync(folder).find((name) => /^(licen[cs]e|copying)/i.test(name));
  const text = file ? readFileSync(join(folder, file), "utf8") : "";
  const line = /^\s*(?:\(c\)|copyright).*\d{4}.*$/im.exec(text)?.[0].trim();
  return (line ?? (typeof author === "string" ? author : author?.name) ?? "")
    .replace(/\s*<[^>]*>|\s*\(http[^)]*\)/g, "")
    .replaceAll("|", "/");
}

/** Packages that ship, by name and version. */
export function shippedPackages() {
  const found = new Map();
  const visit = (name, from) => {
    const folder = folderOf(name, from);
    // Case: optional, and not for this system.
    if (!folder) return;
    const about = read(join(folder, "package.json"));
    const key = `${about.name} ${about.version}`;
    if (found.has(key)) return;
    if (!name.startsWith("@plan-tester/"))
      found.set(key, { name: about.name, version: about.version, licence: licenceOf(about), owner: ownerOf(folder, about) });
    for (const next of Object.keys({ ...about.dependencies, ...about.peerDependencies })) visit(next, folder);
  };
  for (const workspace of SHIPPED)
    for (const name of Object.keys(read(join(root, workspace, "package.json")).dependencies ?? {})) visit(name, join(root, workspace));
  return [...found.values()].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.version < b.version ? -1 : 1));
}

export function thirdPartyText() {
  const rows = shippedPackages().map(({ name, version, licence, owner }) => `| ${name} | ${version} | ${licence} | ${owner} |`);
  return `# Third-party code and fonts

Packages whose code or fonts ship with the app, each under its own licence; the text lies in the package's folder in
\`node_modules\`. Made by \`node scripts/third-party.mjs\`, and a test keeps it fresh. Nothing of it is changed.

| package | version | licence | copyright or author |
|---|---|---|---|
${rows.join("\n")}
`;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) writeFileSync(join(root, "THIRD-PARTY.md"), thirdPartyText());
