/** Columns, conditions and longer bars that runs on the same bars share through an exchange. */
import { describe, expect, test } from "vitest";
import { walk } from "../testing/bars.ts";
import { type ColumnExchange, type FlagEntry, StudyStore } from "./study-store.ts";

const long = walk(100_000, 4);
const short = walk(500, 4);

/** What was asked for, given and given up, and an exchange that keeps what it is given. */
function exchangeWith(kept = new Map<string, object>(), place = "") {
  const said: string[] = [];
  const exchange: ColumnExchange = {
    take: <T extends object>(key: string): T | null => {
      said.push(`take ${place}${key}`);
      return (kept.get(`${place}${key}`) as T | undefined) ?? null;
    },
    give: (key, made) => {
      said.push(`give ${place}${key}`);
      kept.set(`${place}${key}`, made);
      return made;
    },
    fail: (key) => void said.push(`fail ${place}${key}`),
    within: (timeframe) => exchangeWith(kept, `${place}${timeframe} `).exchange,
  };
  return { said, kept, exchange };
}

const double = (store: StudyStore, seen: string[] = []) =>
  store.number("double(close)", 0, [], ({ close }) => {
    seen.push("double");
    return { values: close.map((value) => 2 * value), first: 0 };
  });

const above = (store: StudyStore, seen: string[] = []): FlagEntry =>
  store.flag("isAbove(close, open)", 0, [], ({ close, open }) => {
    seen.push("above");
    return { bits: Uint8Array.from(close, (value, i) => (value > open[i]! ? 1 : 0)), first: 0 };
  });

describe("a store with an exchange", () => {
  test("takes what another has made, and makes nothing itself", () => {
    const { exchange, kept } = exchangeWith();
    const [one, other] = [new StudyStore(long, exchange), new StudyStore(long, exchange)];
    const made: string[] = [];
    const first = { number: double(one, made), flag: above(one, made), bars: one.higher("15m").bars };
    expect(made).toEqual(["double", "above"]);
    const second = { number: double(other, made), flag: above(other, made), bars: other.higher("15m").bars };
    expect(made).toEqual(["double", "above"]);
    expect(second.number.values).toBe(first.number.values);
    expect(second.flag.bits).toBe(first.flag.bits);
    expect(second.bars).toBe(first.bars);
    expect([...kept.keys()]).toEqual(["double(close)", "condition isAbove(close, open)", "bars 15m"]);
  });

  test("what it takes is what it would have made", () => {
    const { exchange } = exchangeWith();
    new StudyStore(long, exchange).higher("1h");
    double(new StudyStore(long, exchange));
    const [shared, alone] = [new StudyStore(long, exchange), new StudyStore(long)];
    expect(double(shared).values).toEqual(double(alone).values);
    expect(shared.higher("1h").bars).toEqual(alone.higher("1h").bars);
  });

  test("columns of a longer timeframe are shared under its name", () => {
    const { exchange, kept } = exchangeWith();
    double(new StudyStore(long, exchange).higher("1h"));
    expect([...kept.keys()]).toEqual(["bars 1h", "1h double(close)"]);
  });

  test("asks neither for prices nor for a plan's own studies, nor for conditions over few bars", () => {
    const { exchange, said } = exchangeWith();
    const store = new StudyStore(short, exchange);
    store.number("close", 0, [], ({ close }) => ({ values: close, first: 0 }));
    store.number("stepwise#1(close)", 0, [], ({ close }) => ({ values: close.slice(), first: 0 }));
    above(store);
    expect(said).toEqual([]);
  });

  test("asks once, then knows", () => {
    const { exchange, said } = exchangeWith();
    const store = new StudyStore(short, exchange);
    expect(double(store)).toBe(double(store));
    expect(said).toEqual(["take double(close)", "give double(close)"]);
  });

  test("says so when nothing comes of it, and the error goes on to the plan", () => {
    const { exchange, said } = exchangeWith();
    const store = new StudyStore(long, exchange);
    const broken = (): never => {
      throw new Error("no such study");
    };
    expect(() => store.number("broken(close)", 0, [], broken)).toThrow("no such study");
    expect(() => store.flag("broken(close)", 0, [], broken)).toThrow("no such study");
    expect(() => store.higher("1s")).toThrow();
    expect(said.filter((line) => line.startsWith("fail"))).toEqual(["fail broken(close)", "fail condition broken(close)", "fail bars 1s"]);
  });

  test("what came from the exchange is not given back to be written into again", () => {
    const kept = new Map<string, object>();
    const shared = { values: new Float64Array(new SharedArrayBuffer(8 * short.length)).fill(7), first: 0 };
    kept.set("double(close)", shared);
    const store = new StudyStore(short, exchangeWith(kept).exchange);
    expect(double(store).values).toBe(shared.values);
    store.clear();
    double(new StudyStore(short));
    expect(shared.values.every((value) => value === 7)).toBe(true);
  });
});
