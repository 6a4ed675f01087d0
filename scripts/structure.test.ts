/** Which way imports go between folders. Circles between files are found by lint; these are circles between folders, and orders. */
import { readdirSync, readFileSync, statSync } from "node:fs";
import { dirname, join, normalize, relative } from "node:path";
import { fileURLToPath } from "node:url";
import { expect, test } from "vitest";

const root = fileURLToPath(new URL("..", import.meta.url));

function* filesIn(folder: string): Generator<string> {
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) yield* filesIn(path);
    else if (/\.tsx?$/.test(name) && !/\.(test|d)\.tsx?$/.test(name)) yield path;
  }
}

/** The folder of a file below `src`: the first, or the second below `features`; "" for a file that lies there itself. */
function folderOf(src: string, file: string): string {
  const parts = relative(src, file).split("/").slice(0, -1);
  return parts[0] === "features" ? parts.slice(0, 2).join("/") : (parts[0] ?? "");
}

/** Folders that each folder imports from, and one import that shows it. */
function importsOf(workspace: string): Map<string, Map<string, string>> {
  const src = join(root, workspace, "src");
  const graph = new Map<string, Map<string, string>>();
  for (const file of filesIn(src)) {
    const from = folderOf(src, file);
    for (const [, path] of readFileSync(file, "utf8").matchAll(/(?:from|import\() ?"(\.[^"]+)"/g)) {
      const to = folderOf(src, normalize(join(dirname(file), path!)));
      if (to === from) continue;
      const known = graph.get(from) ?? new Map<string, string>();
      graph.set(from, known.set(to, `${relative(src, file)} -> ${path}`));
    }
  }
  return graph;
}

/** The first circle, as the imports that make it; null where there is none. Files beside the folders put them together, and belong to none. */
function circleIn(graph: ReadonlyMap<string, ReadonlyMap<string, string>>): string[] | null {
  const done = new Set<string>();
  const visit = (folder: string, way: readonly string[]): string[] | null => {
    if (way.includes(folder))
      return way.slice(way.indexOf(folder)).map((from, k, circle) => graph.get(from)!.get(circle[k + 1] ?? folder)!);
    if (done.has(folder)) return null;
    for (const to of graph.get(folder)?.keys() ?? []) {
      const found = to === "" ? null : visit(to, [...way, folder]);
      if (found) return found;
    }
    done.add(folder);
    return null;
  };
  for (const folder of graph.keys()) {
    const found = folder === "" ? null : visit(folder, []);
    if (found) return found;
  }
  return null;
}

test.each(["core", "runner", "server", "web"])("no folders of %s import one another in a circle", (workspace) => {
  const graph = importsOf(workspace);
  expect(graph.size).toBeGreaterThan(1);
  expect(circleIn(graph)).toBeNull();
});

/** What each folder of the core may know, besides the files beside them. */
const CORE: Readonly<Record<string, readonly string[]>> = {
  market: [],
  studies: ["market"],
  importing: ["market"],
  quality: ["market"],
  engine: ["market"],
  figures: ["market", "engine"],
  language: ["market", "engine", "studies"],
  sheet: ["market", "engine", "studies", "language"],
  run: ["market", "engine", "studies", "figures", "language"],
  trust: ["market", "engine", "figures"],
  sizing: ["market", "engine", "figures"],
  blend: ["market", "engine", "figures", "sizing"],
  search: ["run", "trust"],
  live: ["market", "engine", "studies", "language", "run"],
  testing: ["market", "engine", "studies", "figures", "language", "run", "live", "sheet", "blend"],
};

test("folders of the core know only those below them", () => {
  const graph = importsOf("core");
  graph.delete("");
  expect([...graph.keys()].filter((folder) => !(folder in CORE))).toEqual([]);
  const strange = [...graph].flatMap(([folder, known]) =>
    [...known].filter(([to]) => to !== "" && !CORE[folder]!.includes(to)).map(([, shown]) => shown),
  );
  expect(strange).toEqual([]);
});

test("features of the web know data, parts and helpers; none of those knows a feature", () => {
  const graph = importsOf("web");
  const upward = ["data", "lib", "ui", "charts"].flatMap((folder) =>
    [...(graph.get(folder) ?? [])].filter(([to]) => to === "app" || to.startsWith("features/")).map(([, shown]) => shown),
  );
  expect(upward).toEqual([]);
});
