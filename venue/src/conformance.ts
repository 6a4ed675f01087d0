/**
 * What a venue must promise (docs/venues.md), asked of any address: each promise is tried on an account of its own. It needs a
 * clock that holds; on the practice venue it moves the market on by some minutes.
 */
import { type Instrument, type OrderTicket, PLAIN_ORDER, type PlanCommand } from "@plan-tester/core";
import { WebSocket } from "ws";
import type { ClientMessage, FollowedMessage, OwnerHolding, VenueAnswer, VenueMessage, VenueWordMessage } from "./protocol.ts";

const PATIENCE_MS = 20_000;
const WRONG_CLOCK_MS = 60_000;

type Report = Extract<VenueWordMessage, { type: "report" }>;

/** A client that acknowledges every word, after it has said what it wants at the next opening. */
class Probe {
  readonly heard: VenueMessage[] = [];
  readonly #socket: WebSocket;
  readonly #address: { readonly account: string; readonly owner: string };
  readonly #symbol: string;
  #atOpening: ClientMessage[] = [];

  private constructor(socket: WebSocket, account: string, symbol: string) {
    this.#socket = socket;
    this.#address = { account, owner: "probe" };
    this.#symbol = symbol;
    socket.on("message", (data) => this.#receive(JSON.parse(String(data)) as VenueMessage));
  }

  static async open(base: string, account: string, symbol: string): Promise<Probe> {
    const socket = new WebSocket(`${base.replace(/^http/, "ws")}/feed`);
    await new Promise((resolve, reject) => socket.once("open", resolve).once("error", reject));
    const probe = new Probe(socket, account, symbol);
    probe.say({ type: "hello", answers: true });
    return probe;
  }

  say(message: ClientMessage): void {
    this.#socket.send(JSON.stringify(message));
  }

  close(): void {
    this.#socket.close();
  }

  #receive(message: VenueMessage): void {
    this.heard.push(message);
    if (!("seq" in message)) return;
    if (message.type === "opening" && message.symbols.includes(this.#symbol))
      for (const wanted of this.#atOpening.splice(0)) this.say(wanted);
    this.say({ type: "ack", seq: message.seq });
  }

  follow(after: number): void {
    this.say({ type: "follow", ...this.#address, after, prices: false });
  }

  /** Sends commands when the market opens a minute next. */
  atOpening(first: number, ...commands: readonly PlanCommand[]): void {
    this.#atOpening.push({ type: "commands", ...this.#address, first, commands });
  }

  get reports(): Report[] {
    return this.heard.filter((message): message is Report => message.type === "report");
  }

  get followed(): FollowedMessage | undefined {
    return this.heard.findLast((message): message is FollowedMessage => message.type === "followed");
  }

  /** @throws Error when it does not come about in time. */
  async until<T>(what: string, find: () => T | undefined): Promise<T> {
    for (const end = performance.now() + PATIENCE_MS; performance.now() < end; ) {
      const found = find();
      if (found !== undefined && found !== null && found !== false) return found;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    throw new Error(`waited in vain for ${what}`);
  }
}

export interface Conformance {
  readonly promise: string;
  /** Why it is not kept; "" where it is. */
  readonly problem: string;
}

function must(holds: boolean, problem: string): void {
  if (!holds) throw new Error(problem);
}

/**
 * Tries every promise, in order; those after a broken one may break with it. Of a venue that gives data alone, those of data.
 * @param base such as http://127.0.0.1:4178 @param instrument one that the venue trades
 */
export async function conform(base: string, instrument: Instrument): Promise<Conformance[]> {
  const { symbol } = instrument;
  const id = `probe-${Date.now().toString(36)}`;
  const call = async (method: string, path: string, body?: object): Promise<{ status: number; json: unknown }> => {
    const headers = { "Content-Type": "application/json" };
    const response = await fetch(base + path, { method, headers, ...(body && { body: JSON.stringify(body) }) });
    return { status: response.status, json: await response.json() };
  };
  const ticket = (more: Partial<OrderTicket>): OrderTicket => ({
    ...PLAIN_ORDER,
    ...{ side: 1, kind: "market", quantity: instrument.minQuantity, intent: "enter", tag: "probe", submittedBar: 0, submittedTime: 0 },
    ...{ expiresBar: Number.POSITIVE_INFINITY, expiresTime: Number.POSITIVE_INFINITY },
    ...more,
  });
  const submit = (orderId: number, more: Partial<OrderTicket> = {}): PlanCommand => ({
    kind: "submit",
    symbol,
    orderId,
    ticket: ticket(more),
  });
  const stopLoss = { unit: "ticks", value: 100 } as const;
  const buy = submit(1, { stopLoss });
  const far = submit(2, { kind: "limit", price: instrument.tickSize });
  let probe!: Probe;

  type Promised = readonly [promise: string, keeps: () => Promise<unknown>];
  const ofData: readonly Promised[] = [
    [
      "tells its clock",
      async () => {
        const { status, json } = await call("GET", "/status");
        const { nowMs, speed, pace, holds, trouble, saidMs } = json as VenueAnswer;
        must(status === 200 && [nowMs, speed, pace].every(Number.isFinite), "GET /status lacks nowMs, speed or pace");
        must(typeof holds === "boolean" && typeof trouble === "string", "GET /status lacks holds or trouble");
        must(Math.abs(saidMs - Date.now()) < WRONG_CLOCK_MS, "saidMs of GET /status is not the real time");
        await call("POST", "/clock", { speed: 600, holds: true });
      },
    ],
    [
      "refuses in words what can't be",
      async () => {
        const account = { id, instruments: [instrument], settings: {}, timeframe: "7x" };
        const { status, json } = await call("POST", "/accounts", account);
        const { message } = (json as { error?: { message?: string } }).error ?? {};
        must(status === 400 && /7x/.test(message ?? ""), `a timeframe of 7x was answered with ${status} "${message}"`);
      },
    ],
    [
      "opens an account once, and tells it as it is",
      async () => {
        const account = { id, instruments: [instrument], settings: { cash: 100_000 }, timeframe: "15m" };
        for (let times = 0; times < 2; times++) must((await call("POST", "/accounts", account)).status === 200, "POST /accounts failed");
        probe = await Probe.open(base, id, symbol);
        probe.follow(0);
        const { report, lastReport, missed, epoch, restored } = await probe.until("followed", () => probe.followed);
        must(
          typeof epoch === "string" && epoch !== "" && restored === null,
          "a new account was there when the venue started, or it has no epoch",
        );
        must(report.cash === 100_000 && report.commandsDone === 0 && lastReport === 0, "a new account has a past");
        must(missed?.length === 0, "a new account has missed reports");
      },
    ],
    [
      "tells each minute as it opens and, with its bar, when it is over",
      async () => {
        const opening = await probe.until("an opening", () =>
          probe.heard.find((word) => word.type === "opening" && word.symbols.includes(symbol)),
        );
        const closing = await probe.until("its bar", () =>
          probe.heard.find(
            (word) => word.type === "closing" && word.minutes.some(({ bar }) => bar.time === (opening as { timeMs: number }).timeMs),
          ),
        );
        const { bar } = (closing as Extract<VenueMessage, { type: "closing" }>).minutes.find((minute) => minute.symbol === symbol)!;
        must(bar.low <= Math.min(bar.open, bar.close) && bar.high >= Math.max(bar.open, bar.close), "a bar's prices don't fit together");
      },
    ],
  ];
  const ofOrders: readonly Promised[] = [
    [
      "fills at the open that was told what is sent before it is acknowledged, and tells each thing in order",
      async () => {
        probe.atOpening(1, buy, far);
        const filled = await probe.until("a fill", () => probe.reports.find(({ event }) => event.kind === "filled"));
        await probe.until("the lot", () => probe.reports.find(({ event }) => event.kind === "opened"));
        must(
          probe.reports.map(({ number }) => number).join() === "1,2",
          `reports are numbered ${probe.reports.map(({ number }) => number)}`,
        );
        const opening = probe.heard.findLast((word) => word.type === "opening" && word.seq < filled.seq);
        must(opening?.type === "opening" && opening.timeMs === filled.timeMs, "it did not fill at the open that was told");
      },
    ],
    [
      "puts attached exits to work with the fill",
      async () => must(probe.reports[1]!.account.books[0]!.lots[0]?.stop !== null, "the lot has no stop"),
    ],
    [
      "does nothing twice",
      async () => {
        probe.atOpening(1, buy, far);
        probe.follow(2);
        await probe.until("some minutes", () => probe.heard.filter(({ type }) => type === "opening").length > 4);
        must(probe.reports.length === 2, "commands that were done before were done again");
      },
    ],
    [
      "takes no command ahead of the next, and says which it awaits",
      async () => {
        probe.atOpening(9, submit(3));
        const refused = await probe.until("a refusal", () => probe.heard.find((message) => message.type === "refused"));
        must(refused.awaited === 3, `it awaits ${refused.awaited} in place of 3`);
      },
    ],
    [
      "cancels an order, and takes a stop away, when it is asked to",
      async () => {
        probe.atOpening(
          3,
          { kind: "cancel", symbol, orderId: 2, note: "no more", isExpiry: false },
          { kind: "exits", symbol, which: "stop", price: null, mayLoosen: true },
        );
        const ended = await probe.until("its end", () => probe.reports.find(({ event }) => event.kind === "ended"));
        must(
          ended.left.some(({ id: order }) => order === 2),
          "the order is not among those that have left",
        );
        probe.follow(0);
        const told = await probe.until("no stop", () => (probe.followed?.report.commandsDone === 4 ? probe.followed : undefined));
        must(told.report.books[0]!.lots[0]?.stop === null && told.report.books[0]!.orders.length === 0, "order or stop is still there");
      },
    ],
    [
      "tells a client that comes back what it has missed",
      async () => {
        const before = probe.reports.length;
        probe.close();
        await call("POST", `/accounts/${id}/probe/flatten`, {});
        probe = await Probe.open(base, id, symbol);
        probe.follow(before);
        await probe.until("what was missed", () => {
          if (probe.followed && probe.followed.missed === null) throw new Error("reports are not kept");
          const kinds = [...(probe.followed?.missed ?? []), ...probe.reports].map(({ event }) => event.kind);
          return kinds.includes("closed") || undefined;
        });
      },
    ],
    [
      "lists what is open and waiting, and forgets an account",
      async () => {
        const { json } = await call("GET", "/holdings");
        const own = (json as OwnerHolding[]).find(({ account }) => account === id);
        must(own?.report.books.every(({ lots, orders }) => lots.length + orders.length === 0) ?? false, "the account is not flat");
        await call("DELETE", `/accounts/${id}`);
        must(!((await call("GET", "/holdings")).json as OwnerHolding[]).some(({ account }) => account === id), "it is still listed");
        probe.close();
      },
    ],
  ];
  const ofNone: readonly Promised[] = [
    [
      "takes no orders, and says so",
      async () => {
        probe.atOpening(1, buy);
        const { reason } = await probe.until("a refusal", () => probe.heard.find((message) => message.type === "refused"));
        must(reason.length > 10, `the refusal says "${reason}"`);
        await call("DELETE", `/accounts/${id}`);
        probe.close();
      },
    ],
  ];
  const { takesOrders } = (await call("GET", "/status")).json as VenueAnswer;
  const results: Conformance[] = [];
  for (const [promise, keeps] of [...ofData, ...(takesOrders ? ofOrders : ofNone)])
    results.push({
      promise,
      problem: await keeps().then(
        () => "",
        (error: unknown) => (error as Error).message,
      ),
    });
  return results;
}
