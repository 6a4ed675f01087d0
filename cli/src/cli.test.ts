/** The command line as a script meets it: output, errors in one line, exit codes. */
import { spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { bundleOf, workspaceRoot } from "@plan-tester/demo/root";
import { Ajv } from "ajv";
import { afterAll, beforeAll, describe, expect, test } from "vitest";

const root = workspaceRoot();
const program = bundleOf("plan-tester.js", import.meta.url)!;
const folder = mkdtempSync(join(tmpdir(), "plan-tester-cli-"));
const file = (name: string): string => join(folder, name);
const run = (...args: string[]) => spawnSync(process.execPath, [program, ...args], { encoding: "utf8", cwd: folder });
const PLAN = join(root, "demo/plans/brine-cross.plan.ts");

beforeAll(() => {
  const rows = ["time,open,high,low,close,volume"];
  for (let i = 0; i < 3000; i++) {
    const at = (k: number): number => Math.round((130 + 6 * Math.sin(k / 60) + Math.sin(k / 7)) * 20) / 20;
    const [open, close] = [at(i), at(i + 1)];
    rows.push(
      `${new Date(Date.UTC(2025, 2, 3) + i * 60_000).toISOString()},${open},${Math.max(open, close) + 0.1},${Math.min(open, close) - 0.1},${close},5`,
    );
  }
  writeFileSync(file("bars.csv"), rows.join("\n"));
  writeFileSync(
    file("brin.json"),
    JSON.stringify({
      symbol: "BRIN",
      tickSize: 0.05,
      pointValue: 500,
      costs: {
        commissionPerOrder: 0,
        commissionPerUnit: 2.8,
        commissionPercent: 0,
        commissionMinimum: 0,
        spreadTicks: 1,
        slippageTicks: 0.5,
      },
    }),
  );
  writeFileSync(
    file("bad.plan.ts"),
    `export default plan({\n  title: "Bad",\n  build({ on }) {\n    let n = 0;\n    on.barClose(() => {\n      if (++n === 100) throw new Error("at a hundred");\n    });\n  },\n});\n`,
  );
  writeFileSync(
    file("unclear.csv"),
    Array.from({ length: 8 }, (_, i) => `${String(i + 4).padStart(2, "0")}.03.2025;12,${i}1;13,5;11,25;12,${i};2.000;9\n`).join(""),
  );
  writeFileSync(file("broken.plan.ts"), "export default plan({\n  title: ,\n});\n");
});
beforeAll(() => writeFileSync(file("hours.csv"), run("export", ...data, "--timeframe", "1h").stdout));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const data = ["--bars", "bars.csv", "--instrument", "brin.json"];

test("backtest --json prints one document that its published schema describes", () => {
  const { stdout, stderr, status } = run("backtest", "--plan", PLAN, ...data, "--input", "fast=8", "--input", "slow=30", "--json");
  expect([status, stderr]).toEqual([0, ""]);
  const document = JSON.parse(stdout);
  const schema = JSON.parse(readFileSync(join(root, "docs/run-document.schema.json"), "utf8"));
  const validate = new Ajv({ allErrors: true, strict: false }).compile(schema);
  expect(validate(document), JSON.stringify(validate.errors?.slice(0, 5))).toBe(true);
  expect(document.trades.length).toBeGreaterThan(3);
  expect(document.equity.length).toBe(3000);
  const net = document.trades.reduce((sum: number, trade: { net: number }) => sum + trade.net, 0);
  expect(document.figures.netProfit).toBeCloseTo(net, 6);
  expect(document.equity.at(-1) - 100_000).toBeCloseTo(net, 6);
  expect(document.inputs).toMatchObject({ fast: 8, slow: 30, stop: 50 });
});

test("the same arguments give the same fingerprint and trades; other costs do not", () => {
  const args = ["backtest", "--plan", PLAN, ...data, "--timeframe", "5m", "--input", "fast=5", "--input", "slow=15", "--json"];
  const [one, two, free] = [run(...args), run(...args), run(...args, "--costs", "none")].map(({ stdout }) => JSON.parse(stdout));
  expect(two.fingerprint).toBe(one.fingerprint);
  expect(two.trades).toEqual(one.trades);
  expect(free.fingerprint).not.toBe(one.fingerprint);
  expect(free.figures.costs).toBe(0);
  expect(one.bars.count).toBe(600);
});

test("without --json it prints a summary, warnings first", () => {
  const { stdout, status } = run("backtest", "--plan", PLAN, ...data, "--from", "2025-03-03", "--to", "2025-03-03");
  expect(status).toBe(0);
  expect(stdout).toMatch(/^Brine cross on BRIN 1m, 1440 bars\n! Only \d+ trades?/);
});

test("a period that moves with the data is the days that it is now", () => {
  const bars = (...period: string[]): string => run("studies", ...data, "--timeframe", "1h", "--study", "close", ...period).stdout;
  expect(bars("--period", "to the end", "--from", "2025-03-04")).toBe(bars("--from", "2025-03-04"));
  expect(bars("--period", "last 1 weeks")).toBe(bars());
  expect(bars("--from", "2025-03-04").split("\n")[1]).toMatch(/^2025-03-04T00:00:00\.000Z,129\.8$/);
  expect(bars("--to", "2025-03-03")).toBe(bars().split("\n").slice(0, 25).join("\n").concat("\n"));
  for (const [period, more, reason] of [
    ["last month", [], /--period is "last month"; write all, "to the end"/],
    ["all", ["--to", "2025-03-04"], /ends with the data: leave --to out/],
    ["all", ["--from", "2025-03-04"], /says where it begins: leave --from out/],
  ] as const) {
    const { stderr, status } = run("studies", ...data, "--study", "close", "--period", period, ...more);
    expect([status, stderr]).toEqual([2, expect.stringMatching(reason)]);
  }
});

test("studies prints columns as CSV, empty during warm-up", () => {
  const { stdout, status } = run("studies", ...data, "--study", "ema(close, 20)", "--study", "highest(high, 10)[1]");
  const lines = stdout.trim().split("\n");
  expect(status).toBe(0);
  expect(lines[0]).toBe('time,"ema(close, 20)","highest(high, 10)[1]"');
  expect(lines.length).toBe(3001);
  expect(lines[1]).toBe("2025-03-03T00:00:00.000Z,,");
  expect(lines[20]).toMatch(/Z,13\d\.\d+,13\d/);
});

test("sweep prints one line a variant, apart for each stretch", () => {
  const { stdout, status } = run(
    "sweep",
    "--plan",
    PLAN,
    ...data,
    "--range",
    "fast=4:8:2",
    "--range",
    "slow=20,30",
    "--split",
    "2025-03-04",
  );
  const lines = stdout.trim().split("\n");
  expect(status).toBe(0);
  expect(lines[0]).toMatch(/^fast,slow,in\.netProfit,.*out\.netProfit/);
  expect(lines.slice(1).map((line) => line.split(",").slice(0, 2).join("/"))).toEqual(["4/20", "4/30", "6/20", "6/30", "8/20", "8/30"]);
});

test("sweep searches a number of variants, with links, conditions and numbers of the kit", () => {
  writeFileSync(
    file("kit.json"),
    JSON.stringify({
      name: "Tight",
      plansExits: false,
      long: { stopLoss: { unit: "ticks", value: 30 } },
      short: { stopLoss: { unit: "ticks", value: 30 } },
    }),
  );
  const args = ["sweep", "--plan", PLAN, ...data, "--kit", "kit.json", "--range", "fast=2:20:1", "--range", "kit.stop=10:60:5"];
  const more = ["--condition", "slow = 3 * fast", "--condition", "kit.stop >= fast", "--search", "coarse-to-fine:40"];
  const { stdout, status } = run(...args, ...more);
  expect(status).toBe(0);
  const [head, ...rows] = stdout
    .trim()
    .split("\n")
    .map((line) => line.split(","));
  expect(head!.slice(0, 4)).toEqual(["fast", "kit.stop", "slow", "netProfit"]);
  expect(rows.length).toBeGreaterThan(20);
  expect(rows.length).toBeLessThanOrEqual(40);
  for (const [fast, stop, slow] of rows) {
    expect(Number(slow)).toBe(3 * Number(fast));
    expect(Number(stop)).toBeGreaterThanOrEqual(Number(fast));
  }
  // Stops of other widths end trades elsewhere.
  expect(new Set(rows.map((row) => row[3])).size).toBeGreaterThan(5);
});

test("export resamples and import reads it back", () => {
  const { stdout } = run("export", ...data, "--timeframe", "1h");
  expect(stdout).toBe(readFileSync(file("hours.csv"), "utf8"));
  const report = JSON.parse(run("import", "--bars", "hours.csv").stdout);
  expect(report).toMatchObject({ timeframe: "1h", bars: 50, rejected: 0 });
});

test("bars saved as Parquet, studies beside them, are read again; ticks become bars", () => {
  run("export", ...data, "--timeframe", "1h", "--form", "parquet", "--study", "close > sma(close, 5)", "--out", "hours.parquet");
  expect(JSON.parse(run("import", "--bars", "hours.parquet").stdout)).toMatchObject({ timeframe: "1h", bars: 50, rejected: 0 });
  const { stdout } = run("export", "--bars", "hours.parquet", ...data.slice(2), "--study", "close > sma(close, 5)");
  const [head, , ...rows] = stdout.trimEnd().split("\n");
  expect(head).toBe('time,open,high,low,close,volume,"close > sma(close, 5)"');
  expect(new Set(rows.slice(4).map((row) => row.split(",").at(-1)))).toEqual(new Set(["0", "1"]));
  expect(readFileSync(file("hours.csv"), "utf8").split("\n").slice(2, 6)).toEqual(
    rows.slice(0, 4).map((row) => row.slice(0, row.lastIndexOf(","))),
  );
  writeFileSync(file("ticks.csv"), "2026-03-02 07:00:01,412.25,412.5\n2026-03-02 07:00:20,412.5,413\n2026-03-02 07:01:00,412,412.25\n");
  expect(JSON.parse(run("import", "--bars", "ticks.csv", "--columns", "time,bid,ask").stdout)).toMatchObject({ timeframe: "1m", bars: 2 });
});

test("what a file leaves open is answered by options", () => {
  const answer = (...options: string[]) =>
    JSON.parse(run("import", "--bars", "unclear.csv", "--columns", "time,open,high,low,close,-,volume", ...options).stdout);
  expect(answer("--date-order", "dmy")).toMatchObject({
    timeframe: "1d",
    bars: 8,
    first: "2025-03-04T00:00:00.000Z",
    last: "2025-03-11T00:00:00.000Z",
  });
  expect(answer("--date-order", "mdy")).toMatchObject({ timeframe: "1mo", bars: 8, first: "2025-04-03T00:00:00.000Z" });
});

describe("wrong arguments exit 2 with one clear line", () => {
  test.each([
    ["no plan", ["backtest", ...data], /required option '--plan <file>' not specified/],
    ["a file that is not there", ["backtest", "--plan", "none.ts", ...data], /Can't read the plan file "none\.ts": there is no such file/],
    ["bars that are not there", ["backtest", "--plan", PLAN, "--bars", "x.csv", "--instrument", "brin.json"], /bars file "x\.csv"/],
    [
      "an unknown input",
      ["backtest", "--plan", PLAN, ...data, "--input", "speed=3"],
      /the plan declares fast, slow, stop, target, contracts/,
    ],
    ["an input out of bounds", ["backtest", "--plan", PLAN, ...data, "--input", "fast=1"], /Fast average is 1; the least is 2/],
    ["costs not understood", ["backtest", "--plan", PLAN, ...data, "--costs", "cheap"], /--costs: "cheap" is not understood/],
    ["a wrong path model", ["backtest", "--plan", PLAN, ...data, "--path", "wild"], /Allowed choices are assumed, finer, adverse/],
    ["an unknown study", ["studies", ...data, "--study", "magic(close)"], /no study "magic"/],
    [
      "a search not understood",
      ["sweep", "--plan", PLAN, ...data, "--range", "fast=2:8:1", "--search", "luck:9"],
      /write method:count, with spread/,
    ],
    [
      "a condition nothing meets",
      ["sweep", "--plan", PLAN, ...data, "--range", "fast=2:8:1", "--condition", "fast > 9"],
      /No variant meets/,
    ],
    ["an instrument to vary", ["sweep", "--plan", PLAN, ...data, "--range", "run.symbol=A,B"], /one instrument and timeframe/],
    ["a range not understood", ["sweep", "--plan", PLAN, ...data, "--range", "fast"], /write name=from:to:step/],
    ["an unknown command", ["dance"], /unknown command 'dance'/],
    [
      "a timeframe finer than the bars",
      ["export", "--bars", "hours.csv", "--instrument", "brin.json", "--timeframe", "1m"],
      /can't be built from bars of 1h/,
    ],
    [
      "a timeframe that the bars don't have",
      ["export", ...data, "--bars-timeframe", "15m"],
      /line 4: its bar opens 1 minute after the one before, so these are not bars of 15 min but, it seems, bars of 1 min/,
    ],
    [
      "dates that can be read in two ways",
      ["import", "--bars", "unclear.csv"],
      /"04\.03\.2025" and every .* Say which with --date-order dmy, mdy or ymd/,
    ],
    ["no such order", ["import", "--bars", "unclear.csv", "--date-order", "ydm"], /--date-order: "ydm" is not dmy, mdy or ymd/],
    [
      "a column without a role",
      ["import", "--bars", "unclear.csv", "--columns", "time,open,high"],
      /"time,open,high" is not complete: low is missing/,
    ],
  ])("%s", (_name, args, message) => {
    const { status, stderr, stdout } = run(...args);
    expect(stderr).toMatch(message);
    expect(stderr.trim().split("\n").length).toBe(1);
    expect([status, stdout]).toEqual([2, ""]);
  });
});

describe("a plan's own error exits 1 with line, column and bar", () => {
  test("while it runs", () => {
    const { status, stderr, stdout } = run("backtest", "--plan", "bad.plan.ts", ...data, "--json");
    expect(status).toBe(1);
    expect(stderr).toMatch(/at a hundred \(line 6, column \d+\) at bar 99 \(2025-03-03T01:39:00\.000Z\)/);
    expect(JSON.parse(stdout)).toMatchObject({ status: "failed", failure: { line: 6, barIndex: 99 }, bars: { done: 99 } });
  });

  test("when it can't be read", () => {
    const { status, stderr } = run("backtest", "--plan", "broken.plan.ts", ...data);
    expect(status).toBe(1);
    expect(stderr).toMatch(/Line 2, column/);
  });
});

interface Run {
  trades: { net: number }[];
  equity: number[];
  fills: { price: number }[];
  orders: { state: string }[];
  figures: { sharpe: number | null };
  months: { netProfit: number }[];
  warnings: unknown[];
  benchmark: unknown;
  resultHash: string;
}

describe("output into a pipe", () => {
  const many = ["studies", "--bars", "bars.csv", ...Array.from({ length: 30 }, (_none, k) => ["--study", `ema(close, ${k + 2})`]).flat()];
  const bin = program;

  test("a slow reader gets all of it", async () => {
    const child = spawn(process.execPath, [bin, ...many], { cwd: folder, stdio: ["ignore", "pipe", "inherit"] });
    let text = "";
    for await (const part of child.stdout) {
      text += part;
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
    expect(text.length).toBeGreaterThan(1_000_000);
    expect(text.split("\n").length).toBe(3002);
    expect(text).toBe(run(...many, "--out", "whole.csv").status === 0 ? readFileSync(file("whole.csv"), "utf8") : "");
  });

  test("a reader that stops reading is no failure", async () => {
    const child = spawn(process.execPath, [bin, ...many], { cwd: folder, stdio: ["ignore", "pipe", "pipe"] });
    let complaints = "";
    child.stderr.on("data", (part: Buffer) => {
      complaints += part;
    });
    child.stdout.once("data", () => child.stdout.destroy());
    const [code] = await once(child, "exit");
    expect([code, complaints]).toEqual([0, ""]);
  });
});

describe("a run in doubt", () => {
  const PEEK = `export default plan({ title: "Peek", build({ bars, on, enter, position }) {
    let n = 0;
    const spot = stepwise([bars.close], () => (close) => close);
    on.barClose(() => { n++; if (n % 50 === 0 && position.flat && spot.now > 0) enter.long({ timeLimit: { bars: 5 } }); });
  } });`;

  test("verify runs it again and says what differs", () => {
    writeFileSync(file("run.json"), run("backtest", "--plan", PLAN, ...data, "--input", "fast=8", "--json").stdout);
    const again = run("verify", "--run", "run.json", "--plan", PLAN, ...data);
    expect([again.status, again.stdout]).toEqual([0, expect.stringMatching(/^verified: [0-9a-f]{16} came to 2-[0-9a-f]{16} again/)]);
    writeFileSync(file("changed.plan.ts"), `${readFileSync(PLAN, "utf8")}// a remark\n`);
    const changed = run("verify", "--run", "run.json", "--plan", "changed.plan.ts", ...data);
    expect([changed.status, changed.stdout]).toEqual([
      1,
      "differs: the plan, its inputs, its settings or the instrument are not those of the run\n",
    ]);
    const shorter = run("verify", "--run", "run.json", "--plan", PLAN, ...data, "--to", "2025-03-03");
    expect(shorter.stdout).toBe("differs: the bars are not those of the run\n");
  });

  test.each([
    ["a trade's net", (run: Run) => (run.trades[1]!.net += 1), /trades\[1\]\.net/],
    ["an equity value", (run: Run) => (run.equity[700]! += 0.01), /equity\[700\]/],
    ["a fill's price", (run: Run) => (run.fills[0]!.price += 0.05), /fills\[0\]\.price/],
    ["an order's state", (run: Run) => (run.orders[0]!.state = "cancelled"), /orders\[0\]\.state/],
    ["a figure", (run: Run) => (run.figures.sharpe = 3), /figures\.sharpe/],
    ["a month", (run: Run) => (run.months[0]!.netProfit = 1), /months\[0\]/],
    ["a warning", (run: Run) => run.warnings.splice(0, 1), /warnings/],
    ["the hash", (run: Run) => (run.resultHash = "2-0000000000000000"), /resultHash/],
    ["a field that is gone", (run: Run) => delete (run as Partial<Run>).benchmark, /benchmark/],
  ])("verify finds %s that was changed", (_what, change, path) => {
    const known = JSON.parse(readFileSync(file("run.json"), "utf8")) as Run;
    change(known);
    writeFileSync(file("forged.json"), JSON.stringify(known));
    const { status, stdout } = run("verify", "--run", "forged.json", "--plan", PLAN, ...data);
    expect([status, stdout]).toEqual([1, expect.stringMatching(path)]);
    expect(stdout).toMatch(/changed after it was made/);
  });

  test("look-ahead passes what only looks back", () => {
    writeFileSync(file("peek.plan.ts"), PEEK);
    const { status, stdout } = run("look-ahead", "--plan", "peek.plan.ts", ...data);
    expect([status, stdout]).toEqual([0, expect.stringMatching(/^no look-ahead: compared at \d+ places/)]);
  });
});

test("each instrument pays its own costs; they can be replaced and scaled, for all or for one", () => {
  const plan = `export default plan({ title: "Both", build({ market, on }) {
    const [A, B] = [market("BRIN"), market("SOLE")];
    let n = 0;
    on.barClose(() => { n++; if (n === 10) { A.enter.long(); B.enter.long(); } if (n === 20) { A.exit.all(); B.exit.all(); } });
  } });`;
  writeFileSync(file("both.plan.ts"), plan);
  const brin = JSON.parse(readFileSync(file("brin.json"), "utf8"));
  writeFileSync(file("sole.json"), JSON.stringify({ ...brin, symbol: "SOLE", costs: { ...brin.costs, commissionPerUnit: 0.5 } }));
  const commissions = (...more: string[]) => {
    const { stdout } = run("backtest", "--plan", "both.plan.ts", ...data, "--also", "bars.csv,sole.json", "--json", ...more);
    const { trades } = JSON.parse(stdout) as { trades: { symbol: string; commission: number }[] };
    return Object.fromEntries(trades.map(({ symbol, commission }) => [symbol, commission]));
  };
  expect(commissions()).toEqual({ BRIN: 5.6, SOLE: 1 });
  expect(commissions("--costs-scale", "2")).toEqual({ BRIN: 11.2, SOLE: 2 });
  expect(commissions("--costs-of", "SOLE:commissionPerUnit=3")).toEqual({ BRIN: 5.6, SOLE: 6 });
  expect(commissions("--costs", "none")).toEqual({ BRIN: 0, SOLE: 0 });
  expect(run("backtest", "--plan", "both.plan.ts", ...data, "--costs-of", "NONE:none").stderr).toMatch(/NONE, which is not an instrument/);
});

test("settings of the account reach the engine: adverse paths, margin, lots, a kit, a further instrument", () => {
  writeFileSync(
    file("kit.json"),
    JSON.stringify({
      name: "Tight",
      plansExits: false,
      long: { stopLoss: { unit: "ticks", value: 9 } },
      short: { timeLimit: { bars: 4 } },
    }),
  );
  writeFileSync(file("pale.json"), readFileSync(file("brin.json"), "utf8").replace("BRIN", "PALE"));
  const { stdout, stderr } = run(
    ...["backtest", "--plan", PLAN, ...data, "--input", "fast=8", "--path", "adverse", "--positions", "independent"],
    ...["--margin", "leverage=5,maintenance=50", "--max-quantity", "3", "--kit", "kit.json", "--also", "bars.csv,pale.json", "--json"],
  );
  expect(stderr).toBe("");
  const { settings, trades } = JSON.parse(stdout);
  expect(settings).toMatchObject({ path: "adverse", positions: "independent", margin: { by: "leverage", value: 5 }, maxQuantity: 3 });
  expect(settings.kit).toMatchObject({ name: "Tight", plansExits: false, sides: "both", long: { stopLoss: { value: 9 }, target: null } });
  const reasons = (side: string) =>
    new Set(trades.filter((trade: { side: string }) => trade.side === side).map(({ reason }: { reason: string }) => reason));
  expect([...reasons("long")].filter((reason) => reason !== "end of data")).toEqual(["stop"]);
  expect([...reasons("short")].filter((reason) => reason !== "end of data")).toEqual(["time"]);
  const { trades: tested } = JSON.parse(run("backtest", "--plan", PLAN, ...data, "--test-position", "short=2@10", "--json").stdout);
  expect(tested[0]).toMatchObject({ side: "short", quantity: 2, entryTag: "test position" });
});

test("--help lists the commands", () => {
  const { stdout, status } = run("--help");
  expect(status).toBe(0);
  for (const command of ["backtest", "sweep", "verify", "look-ahead", "studies", "import", "export"]) expect(stdout).toContain(command);
});
