/**
 * An address that is asked: where it has {date}, once for each day from the one after the last bar up to yesterday; else the
 * same each time. {symbol} is the instrument's. Redirects are not followed: somewhere else than where the user said is nowhere.
 */
import { createWriteStream } from "node:fs";
import { request as httpRequest, type IncomingMessage } from "node:http";
import { request as httpsRequest } from "node:https";
import { pipeline } from "node:stream/promises";
import type { SourceBody } from "@plan-tester/contract";
import { DAY_MS, PlanTesterError } from "@plan-tester/core";
import { publicLookup, refusePrivate } from "../../http/private-address.ts";
import type { SourceKind } from "./source-kind.ts";

/** Without a word. */
const TIMEOUT_MS = 30_000;
/** In all. */
const MOST_MS = 600_000;
const MOST_BYTES = 512 * 2 ** 20;
/** Days that are asked for at one look; the next goes on behind them. */
const MOST_DAYS = 40;

const isoDay = (ms: number): string => new Date(ms).toISOString().slice(0, 10);
const filled = ({ place, symbol }: SourceBody, date: string): string =>
  place.replaceAll("{date}", date).replaceAll("{symbol}", encodeURIComponent(symbol));

export const webSource: SourceKind = {
  async check(source) {
    const url = URL.parse(filled(source, "2026-01-31"));
    if (!url || !/^https?:$/.test(url.protocol))
      throw new PlanTesterError("bad-input", `"${source.place}" is not an address. Write it like https://…/bars/{date}.csv.`, {});
    if (!source.allowsPrivate) refusePrivate(url.hostname);
  },
  async items(source, { lastDate, nowMs }) {
    const today = isoDay(nowMs);
    const bring = (url: string) => (file: string, signal: AbortSignal) => bringFrom(new URL(url), file, source.allowsPrivate, signal);
    if (!source.place.includes("{date}")) {
      const url = filled(source, "");
      return [{ name: url, key: url, isAlways: true, bring: bring(url) }];
    }
    const days: string[] = [];
    for (let ms = Date.parse(lastDate) + DAY_MS; isoDay(ms) < today && days.length < MOST_DAYS; ms += DAY_MS) days.push(isoDay(ms));
    return days.map((day) => ({ name: day, key: day, bring: bring(filled(source, day)) }));
  },
};

function bringFrom(url: URL, file: string, allowsPrivate: boolean, signal: AbortSignal): Promise<boolean> {
  if (!allowsPrivate) refusePrivate(url.hostname);
  return new Promise((resolve, reject) => {
    const request = (url.protocol === "https:" ? httpsRequest : httpRequest)(url, {
      ...{ timeout: TIMEOUT_MS, agent: false, signal: AbortSignal.any([signal, AbortSignal.timeout(MOST_MS)]) },
      ...(allowsPrivate ? {} : { lookup: publicLookup }),
    });
    request.on("timeout", () => request.destroy(new Error(`no answer in ${TIMEOUT_MS / 1000} s`)));
    request.on("error", reject);
    request.on("response", (response: IncomingMessage) => {
      const status = response.statusCode ?? 0;
      if (status !== 200) {
        response.resume();
        if (status === 404 || status === 204) return resolve(false);
        return reject(new Error(`answered ${status}${status >= 300 && status < 400 ? "; redirects are not followed" : ""}`));
      }
      pipeline(response, atMost(), createWriteStream(file)).then(() => resolve(true), reject);
    });
    request.end();
  });
}

/** Passes bytes on up to the limit. */
function atMost() {
  return async function* (parts: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
    let seen = 0;
    for await (const part of parts) {
      seen += part.length;
      if (seen > MOST_BYTES) throw new Error(`more than ${MOST_BYTES / 2 ** 20} MiB came`);
      yield part;
    }
  };
}
