/** Bundles packed and unpacked, in a thread: zip, checksums, bars as CSV. What is wrong with a file is said in words. */
import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import {
  BUNDLE_KIND,
  BUNDLE_LIMITS,
  BUNDLE_VERSION,
  type BundleManifest,
  bundleManifestSchema,
  check,
  evidenceDocument,
  type RunEvidence,
  type RunOrders,
  unpackColumns,
} from "@plan-tester/contract";
import { type BarColumns, barsAsText, type Instrument, PlanTesterError } from "@plan-tester/core";
import { hashBars, inSharedMemory } from "@plan-tester/runner";
import { strFromU8, strToU8, unzipSync, Zip, ZipDeflate } from "fflate";

const MANIFEST = "bundle.json";
const README = "README.txt";
const README_TEXT = `This is a bundle of Plan Tester: plans, exit kits, instruments, bars and runs as JSON and CSV.
bundle.json lists every file with its size and SHA-256. docs/bundles.md of Plan Tester describes each.
`;
/** What a bundle may hold, by path; nothing else is taken from a file. */
const PATHS =
  /^(bundle\.json|README\.txt|plans\/[\w-]{1,64}\.json|kits\/\d{1,4}\.json|instruments\/\d{1,4}\.json|bars\/\d{1,4}\.csv|runs\/[\w-]{1,64}\.json|documents\/[\w-]{1,64}\.json)$/;
const COLUMNS = ["time", "open", "high", "low", "close", "volume", "spread"] as const;

/** Parts of a kept run as they were written down. */
export interface RunPieces {
  readonly evidence: readonly Uint8Array[];
  readonly orders: readonly Uint8Array[];
  readonly columns: readonly Uint8Array[];
  readonly instruments: readonly Instrument[];
}

export type BundleContent = { readonly text: string } | { readonly bars: BarColumns } | { readonly run: RunPieces };

export interface PackTask {
  readonly title: string;
  readonly note: string;
  readonly madeMs: number;
  readonly files: readonly { readonly path: string; readonly content: BundleContent }[];
}

export interface UnpackedBundle {
  readonly manifest: BundleManifest;
  /** JSON files that are to be read, by path. */
  readonly texts: Readonly<Record<string, string>>;
  /** Bars with their hash, by path. */
  readonly bars: Readonly<Record<string, { readonly columns: BarColumns; readonly hash: string }>>;
}

const wrong = (message: string, details: Record<string, unknown> = {}): PlanTesterError =>
  new PlanTesterError("bad-input", message, details);

function documentOf({ evidence, orders, columns, instruments }: RunPieces): string {
  const run = JSON.parse(Buffer.concat(evidence).toString()) as RunEvidence;
  const packed = Buffer.concat(columns);
  const bytes = packed.buffer.slice(packed.byteOffset, packed.byteOffset + packed.byteLength) as ArrayBuffer;
  const of = JSON.parse(Buffer.concat(orders).toString()) as RunOrders;
  return JSON.stringify(evidenceDocument(run, of, unpackColumns(bytes).columns, instruments));
}

function* bytesOf(content: BundleContent): Generator<Uint8Array> {
  if ("text" in content) yield strToU8(content.text);
  else if ("run" in content) yield strToU8(documentOf(content.run));
  else for (const text of barsAsText(content.bars, "csv", String)) yield strToU8(text);
}

function refuseLarge(files: number, packed: number, unpacked: number): void {
  // README.txt and bundle.json are files too.
  if (files + 2 <= BUNDLE_LIMITS.files && packed <= BUNDLE_LIMITS.packedBytes && unpacked <= BUNDLE_LIMITS.bytes) return;
  throw new PlanTesterError(
    "limit",
    `The bundle would be too large to be opened: at most ${BUNDLE_LIMITS.files} files, ${BUNDLE_LIMITS.packedBytes / 2 ** 20} MiB packed and ${BUNDLE_LIMITS.bytes / 2 ** 30} GiB unpacked. Leave the bars out, or save fewer runs at a time.`,
    {},
  );
}

/** The zip file, in pieces. @throws PlanTesterError limit for one that could not be opened again */
export function packBundle({ title, note, madeMs, files }: PackTask): Uint8Array[] {
  const pieces: Uint8Array[] = [];
  let [packed, unpacked] = [0, 0];
  const zip = new Zip((error, piece) => {
    if (error) throw error;
    pieces.push(piece);
    packed += piece.length;
  });
  const listed: Record<string, { bytes: number; sha256: string }> = {};
  const add = (path: string, parts: Iterable<Uint8Array>): void => {
    const file = new ZipDeflate(path, { level: 4 });
    file.mtime = new Date(madeMs);
    zip.add(file);
    const sum = createHash("sha256");
    let bytes = 0;
    for (const part of parts) {
      sum.update(part);
      bytes += part.length;
      unpacked += part.length;
      refuseLarge(files.length, packed, unpacked);
      file.push(part);
    }
    file.push(new Uint8Array(0), true);
    if (path !== MANIFEST) listed[path] = { bytes, sha256: sum.digest("hex") };
  };
  add(README, [strToU8(README_TEXT)]);
  for (const { path, content } of files) add(path, bytesOf(content));
  const manifest: BundleManifest = { kind: BUNDLE_KIND, version: BUNDLE_VERSION, title, note, madeMs, files: listed };
  add(MANIFEST, [strToU8(`${JSON.stringify(manifest, null, 2)}\n`)]);
  zip.end();
  return pieces;
}

/** Files of a zip by path, held against the limits before anything is unpacked. @throws PlanTesterError bad-input, limit */
function filesOf(packed: Uint8Array): Record<string, Uint8Array> {
  let [files, bytes] = [0, 0];
  const seen = new Set<string>();
  try {
    return unzipSync(packed, {
      filter: ({ name, originalSize }) => {
        if (name.endsWith("/") && PATHS.test(`${name}a.json`)) return false;
        if (!PATHS.test(name))
          throw wrong(`This is no bundle of Plan Tester: it holds "${name.slice(0, 120)}", which a bundle does not have.`);
        if (seen.has(name)) throw wrong(`The bundle holds "${name}" twice.`);
        seen.add(name);
        files++;
        bytes += originalSize;
        if (files > BUNDLE_LIMITS.files || bytes > BUNDLE_LIMITS.bytes)
          throw new PlanTesterError(
            "limit",
            `The bundle holds more than ${BUNDLE_LIMITS.files} files or ${BUNDLE_LIMITS.bytes / 2 ** 30} GiB. Open it in parts.`,
            {},
          );
        return true;
      },
    });
  } catch (error) {
    if (error instanceof PlanTesterError) throw error;
    throw wrong(`The file can't be read as a zip file (${error instanceof Error ? error.message : String(error)}). Was it sent whole?`);
  }
}

export function readCsv(path: string, bytes: Uint8Array): BarColumns {
  const lines = strFromU8(bytes).split("\n");
  if (lines.at(-1) === "") lines.pop();
  const names = (lines[0] ?? "").split(",");
  const wanted = names.length === 7 ? COLUMNS : COLUMNS.slice(0, 6);
  if (names.join() !== wanted.join()) throw wrong(`${path}, line 1: its columns must be ${wanted.join(",")}.`);
  const columns = wanted.map(() => new Float64Array(lines.length - 1));
  for (let line = 1; line < lines.length; line++) {
    const cells = lines[line]!.split(",");
    const at = `${path}, line ${line + 1}`;
    if (cells.length !== wanted.length) throw wrong(`${at}: ${cells.length} values, not ${wanted.length}.`);
    for (let k = 0; k < cells.length; k++) {
      const value = cells[k] === "" ? Number.NaN : Number(cells[k]);
      if (!Number.isFinite(value)) throw wrong(`${at}: "${cells[k]!.slice(0, 40)}" is no number.`);
      columns[k]![line - 1] = value;
    }
    if (line > 1 && !(columns[0]![line - 1]! > columns[0]![line - 2]!))
      throw wrong(`${at}: its time is not later than the line's before it.`);
  }
  if (lines.length < 2) throw wrong(`${path} has no bars.`);
  const [time, open, high, low, close, volume, spread] = columns;
  return { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume!, ...(spread && { spread }) };
}

/** What a bundle holds, every file held against its checksum. @throws PlanTesterError bad-input, limit */
export function unpackBundle(file: string): UnpackedBundle {
  const files = filesOf(readFileSync(file));
  const head = files[MANIFEST];
  if (!head) throw wrong(`This is no bundle of Plan Tester: it has no ${MANIFEST}.`);
  let read: unknown;
  try {
    read = JSON.parse(strFromU8(head));
  } catch (error) {
    throw wrong(`${MANIFEST} is not JSON: ${error instanceof Error ? error.message : String(error)}`);
  }
  const { kind, version } = (read ?? {}) as { kind?: unknown; version?: unknown };
  if (kind === BUNDLE_KIND && version !== BUNDLE_VERSION)
    throw wrong(`The bundle is of version ${String(version)}; this Plan Tester reads version ${BUNDLE_VERSION}. Open it with a newer one.`);
  const manifest = check<BundleManifest>(bundleManifestSchema, read, MANIFEST);
  for (const path of Object.keys(files))
    if (path !== MANIFEST && !manifest.files[path]) throw wrong(`The bundle holds "${path}", which ${MANIFEST} does not list.`);
  const texts: Record<string, string> = {};
  const bars: Record<string, UnpackedBundle["bars"][string]> = {};
  for (const [path, { bytes, sha256 }] of Object.entries(manifest.files)) {
    const content = files[path];
    if (!content) throw wrong(`The bundle lacks "${path}", which ${MANIFEST} lists.`);
    if (content.length !== bytes || createHash("sha256").update(content).digest("hex") !== sha256)
      throw wrong(`"${path}" is not what the bundle was made with: its checksum differs. Was the file changed?`, { path });
    if (path.startsWith("bars/")) {
      const columns = inSharedMemory(readCsv(path, content));
      bars[path] = { columns, hash: hashBars(columns) };
    } else if (path !== README && !path.startsWith("documents/")) texts[path] = strFromU8(content);
  }
  return { manifest, texts, bars };
}
