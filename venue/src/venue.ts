/**
 * The practice venue: a simulated exchange with its own clock, feed and accounts behind HTTP and WebSocket on loopback.
 * Its state is written to a file after each change, so that it goes on where it was after a restart.
 */
import { existsSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { createServer, type IncomingMessage, type Server } from "node:http";
import { deserialize, serialize } from "node:v8";
import { check, isLocalHost, packColumns, readInstrument, type SpeedRequest, speedSchema } from "@plan-tester/contract";
import { type BarColumns, type OrderChange, type OrderTicket, PlanTesterError, resolveSettings } from "@plan-tester/core";
import { HISTORY_TO } from "@plan-tester/demo";
import express from "express";
import { WebSocketServer } from "ws";
import { Account, type AccountSnapshot } from "./account.ts";
import { Feed } from "./feed.ts";
import type { VenueClock, VenueMessage } from "./protocol.ts";
import {
  type MovedExit,
  movedExitSchema,
  type OpenAccount,
  openAccountSchema,
  orderChangeSchema,
  type SentOrder,
  sentOrderSchema,
} from "./requests.ts";

import { broughtUp, STATE_VERSION } from "./state-steps.ts";

interface VenueState {
  readonly version: typeof STATE_VERSION;
  readonly nowMs: number;
  readonly speed: number;
  readonly accounts: readonly AccountSnapshot[];
}

const TICK_MS = 50;
const SAVE_MS = 500;
const START_SPEED = 60;

export interface VenueOptions {
  readonly port: number;
  readonly stateFile: string;
}

export class Venue {
  readonly #accounts = new Map<string, Account>();
  readonly #feed: Feed;
  readonly #stateFile: string;
  readonly #server: Server;
  readonly #sockets: WebSocketServer;
  #timer: NodeJS.Timeout | null = null;
  #saved = 0;

  constructor({ port, stateFile }: VenueOptions) {
    this.#stateFile = stateFile;
    const state = this.#stateBefore();
    this.#feed = new Feed(state?.nowMs ?? HISTORY_TO, state?.speed ?? START_SPEED, (symbol, bar) => {
      // What filled inside the minute is told before the minute itself, as a plan should see it.
      for (const account of this.#accounts.values()) {
        if (account.symbol === symbol) account.bar(bar);
        this.#reportOn(account);
      }
      this.#broadcast({ type: "bar", symbol, bar });
    });
    for (const snapshot of state?.accounts ?? []) {
      this.#accounts.set(snapshot.id, new Account(snapshot.id, snapshot.instrument, snapshot.settings, snapshot));
      this.#feed.market(snapshot.instrument.symbol);
    }
    this.#server = createServer(this.#app());
    this.#sockets = new WebSocketServer({
      server: this.#server,
      path: "/feed",
      verifyClient: ({ req }: { req: IncomingMessage }) => isFromProgram(req),
    });
    this.#server.listen(port, "127.0.0.1");
    let last = performance.now();
    this.#timer = setInterval(() => {
      const now = performance.now();
      // After a pause the clock does not catch up: never more than a minute at once, so that plans can answer in between.
      this.#feed.advance(Math.min(now - last, 60_000 / this.#feed.speed));
      last = now;
      this.#broadcast({ type: "status", ...this.#status() });
      if (now - this.#saved > SAVE_MS) this.save();
    }, TICK_MS);
  }

  #status(): VenueClock {
    return { nowMs: this.#feed.nowMs, speed: this.#feed.speed, trouble: this.#trouble };
  }

  /** What was written down last; a file that can't be read is put aside, not written over. */
  #stateBefore(): VenueState | null {
    const file = this.#stateFile;
    if (!existsSync(file)) return null;
    try {
      return broughtUp(deserialize(readFileSync(file))) as VenueState;
    } catch (error) {
      const aside = `${file}.unreadable`;
      renameSync(file, aside);
      console.error(`The practice venue's state could not be read (${String(error)}); it begins anew. The file is kept as ${aside}.`);
      return null;
    }
  }

  /** Why the state is not written down at present; "" while it is. */
  #trouble = "";

  /** Writes the state down. Where that fails the venue goes on with what it has in memory, says so, and tries again. */
  save(): void {
    try {
      this.#write();
      if (this.#trouble) console.error("The practice venue's state is written down again.");
      this.#trouble = "";
    } catch (error) {
      const { code = "" } = error as NodeJS.ErrnoException;
      const why = code === "ENOSPC" ? "the disk of the data folder is full" : String((error as Error).message);
      if (!this.#trouble) console.error(`The practice venue's state is not written down: ${why}`);
      this.#trouble = `The venue's state is not written down: ${why}. A restart now would lose what happened since.`;
    }
  }

  #write(): void {
    this.#saved = performance.now();
    const state: VenueState = {
      version: STATE_VERSION,
      nowMs: this.#feed.nowMs,
      speed: this.#feed.speed,
      accounts: [...this.#accounts.values()].map((account) => account.snapshot()),
    };
    writeFileSync(`${this.#stateFile}.new`, serialize(state));
    renameSync(`${this.#stateFile}.new`, this.#stateFile);
  }

  close(): void {
    if (this.#timer) clearInterval(this.#timer);
    this.save();
    this.#sockets.close();
    this.#server.close();
  }

  #broadcast(message: VenueMessage): void {
    const text = JSON.stringify(message);
    for (const client of this.#sockets.clients) if (client.readyState === client.OPEN) client.send(text);
  }

  #reportOn(account: Account, force = false): void {
    const report = account.takeReport(force);
    if (report) this.#broadcast(report);
  }

  #account(id: string): Account {
    const account = this.#accounts.get(id);
    if (!account) throw new PlanTesterError("not-found", `The venue has no account "${id}".`, { id });
    return account;
  }

  #app(): express.Express {
    const app = express();
    app.disable("x-powered-by");
    app.use((request, response, next) => {
      if (!isFromProgram(request))
        return void response
          .status(403)
          .json({ error: { code: "bad-input", message: "The venue takes no requests from web pages.", details: {} } });
      next();
    });
    app.use(express.json({ limit: "256kb" }));
    app.get("/status", (_request, response) => void response.json(this.#status()));
    app.post("/speed", (request, response) => {
      const { speed } = check<SpeedRequest>(speedSchema, request.body, "the speed");
      this.#feed.speed = speed;
      response.json(this.#status());
    });
    app.get("/bars", (request, response) => {
      const market = this.#feed.market(String(request.query.symbol));
      if (!market) throw new PlanTesterError("not-found", `The venue does not trade ${String(request.query.symbol)}.`, {});
      response.type("application/octet-stream").send(Buffer.from(packBars(market.finished())));
    });
    app.post("/accounts", (request, response) => {
      const { id, instrument, settings } = check<OpenAccount>(openAccountSchema, request.body, "the account");
      if (!this.#accounts.has(id)) {
        const read = readInstrument(instrument);
        if (!this.#feed.market(read.symbol))
          throw new PlanTesterError(
            "not-found",
            `The practice venue does not trade ${read.symbol}; it trades the instruments of the Sundrey Isles.`,
            {},
          );
        this.#accounts.set(id, new Account(id, read, resolveSettings(settings)));
        this.save();
      }
      response.json(this.#account(id).report());
    });
    app.get("/accounts/:id", (request, response) => void response.json(this.#account(request.params.id).report()));
    app.delete("/accounts/:id", (request, response) => {
      this.#accounts.delete(request.params.id);
      this.save();
      response.json({});
    });
    app.post("/accounts/:id/orders", (request, response) => {
      const account = this.#account(request.params.id);
      const { clientId, ticket } = check<SentOrder>(sentOrderSchema, request.body, "the order");
      account.submit(clientId, revived(ticket), this.#feed.nowMs);
      this.#reportOn(account, true);
      response.json({});
    });
    app.post("/accounts/:id/orders/:clientId/cancel", (request, response) => {
      const account = this.#account(request.params.id);
      const done = account.cancel(Number(request.params.clientId));
      this.#reportOn(account, true);
      response.json({ done });
    });
    app.post("/accounts/:id/orders/:clientId/change", (request, response) => {
      const account = this.#account(request.params.id);
      const done = account.modify(Number(request.params.clientId), check<OrderChange>(orderChangeSchema, request.body, "the change"));
      this.#reportOn(account, true);
      response.json({ done });
    });
    app.post("/accounts/:id/exits", (request, response) => {
      const account = this.#account(request.params.id);
      const { which, price } = check<MovedExit>(movedExitSchema, request.body, "the exit");
      const done = account.setExits(which, price);
      this.#reportOn(account, true);
      response.json({ done });
    });
    app.post("/accounts/:id/flatten", (request, response) => {
      const account = this.#account(request.params.id);
      account.flatten(this.#feed.nowMs);
      this.#reportOn(account, true);
      response.json({});
    });
    app.use((error: unknown, _request: express.Request, response: express.Response, _next: express.NextFunction) => {
      const known = error instanceof PlanTesterError;
      // What express can't read, such as a body that is no JSON, comes with a status of its own.
      const { status = 500 } = error as { status?: number };
      response.status(known ? (error.code === "not-found" ? 404 : 400) : status).json({
        error: {
          code: known ? error.code : status < 500 ? "bad-input" : "unavailable",
          message: String((error as Error).message),
          details: {},
        },
      });
    });
    return app;
  }
}

/**
 * Only programs on this machine speak to the venue; a browser page never does. A page whose name was made to resolve here
 * sends no Origin when it reads, but a Host that is not this machine's.
 */
const isFromProgram = ({ headers }: IncomingMessage): boolean => headers.origin === undefined && isLocalHost(headers.host);

/** JSON has no NaN or Infinity: they arrive as null. */
function revived(ticket: OrderTicket): OrderTicket {
  return {
    ...ticket,
    price: ticket.price ?? Number.NaN,
    limitPrice: ticket.limitPrice ?? Number.NaN,
    quantity: ticket.quantity ?? Number.POSITIVE_INFINITY,
    expiresTime: ticket.expiresTime ?? Number.POSITIVE_INFINITY,
    expiresBar: Number.POSITIVE_INFINITY,
  };
}

function packBars(columns: BarColumns): Uint8Array {
  const names = ["time", "open", "high", "low", "close", "volume", "spread"] as const;
  return packColumns(
    {},
    names.flatMap((name) => (columns[name] ? [{ name, values: columns[name] }] : [])),
  );
}
