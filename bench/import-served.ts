/** Ten million rows taken in by the served app: how long, with how much memory, and how long others wait for an answer meanwhile. */
import { closeSync, createReadStream, openSync, readFileSync, rmSync, statSync, writeSync } from "node:fs";
import { request } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { serveApp } from "./app.ts";

const ROWS = 10_000_000;
const LOOK_EVERY_MS = 200;
const MB = 2 ** 20;
const file = join(tmpdir(), `plan-tester-bench-${process.pid}.csv`);

function writeRows(): void {
  const to = openSync(file, "w");
  let text = "time,open,high,low,close,volume\n";
  const first = Date.UTC(2000, 0, 1);
  for (let k = 0; k < ROWS; k++) {
    const price = 400 + ((k * 7) % 13) / 4;
    const time = new Date(first + k * 60_000).toISOString().slice(0, 19).replace("T", " ");
    text += `${time},${price},${price + 0.25},${price - 0.25},${price},${k % 97}\n`;
    if (text.length < 4e6 && k < ROWS - 1) continue;
    writeSync(to, text);
    text = "";
  }
  closeSync(to);
}

writeRows();
const { base, pid, stop } = await serveApp({ PLAN_TESTER_DEMO: "off" }, "bench-import");
const columns = { time: 0, open: 1, high: 2, low: 3, close: 4, volume: 5 };
const format = { delimiter: ",", headerLines: 1, ...columns, dateFormat: "iso", zone: "UTC", stamp: "open" };
const spec = encodeURIComponent(JSON.stringify({ instrument: { symbol: "BIG", tickSize: 0.25, pointValue: 1 }, format, timeframe: "1m" }));

const memory = (): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))![1]) / 1024;
const before = memory();
let [most, slowest] = [before, 0];
const timer = setInterval(async () => {
  most = Math.max(most, memory());
  const asked = performance.now();
  await fetch(`${base}/api/health`);
  slowest = Math.max(slowest, performance.now() - asked);
}, LOOK_EVERY_MS);
const began = performance.now();
const answer = await new Promise<{ bars?: number }>((resolve, reject) => {
  const sent = request(`${base}/api/imports/big?spec=${spec}`, { method: "POST", headers: { "Content-Type": "text/csv" } }, (response) => {
    let text = "";
    response.setEncoding("utf8");
    response.on("data", (part: string) => {
      text += part;
    });
    response.on("end", () => resolve(JSON.parse(text)));
  });
  sent.on("error", reject);
  createReadStream(file).pipe(sent);
});
const seconds = (performance.now() - began) / 1000;
clearInterval(timer);
if (answer.bars !== ROWS) throw new Error(`The server took ${JSON.stringify(answer).slice(0, 200)}.`);
console.log(`  ${(statSync(file).size / MB).toFixed(0)} MB of text; the server had ${before.toFixed(0)} MB before`);
console.log(
  `bench import-served ${ROWS.toLocaleString("en-GB")} rows in ${seconds.toFixed(1)} s (goal 20), ${most.toFixed(0)} MB at most (goal 1,000), slowest answer meanwhile ${slowest.toFixed(0)} ms`,
);
rmSync(file);
await stop();
process.exit(0);
