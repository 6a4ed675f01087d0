/**
 * The practice venue: a simulated exchange behind HTTP and WebSocket on loopback. The exchange itself lives in a thread of its
 * own, which may hold its clock; this one only takes and passes on.
 */
import { createServer, type IncomingMessage, type Server } from "node:http";
import type { Worker } from "node:worker_threads";
import {
  check,
  isLocalHost,
  type OtherTrade,
  otherTradeSchema,
  type PriceJump,
  packColumns,
  priceJumpSchema,
  readInstrument,
  type VenueFaults,
  type VenueFaultsChange,
  venueFaultsSchema,
} from "@plan-tester/contract";
import {
  type BarColumns,
  barsAsText,
  DAY_MS,
  lowerBound,
  type PlanCommand,
  PlanTesterError,
  parseTimeframe,
  resolveSettings,
  sliceColumns,
} from "@plan-tester/core";
import express from "express";
import { type WebSocket, WebSocketServer } from "ws";
import { Inbox } from "./inbox.ts";
import type { ClientMessage, VenueMessage } from "./protocol.ts";
import {
  CLIENT_SCHEMAS,
  type ClockChange,
  COMMAND_SCHEMAS,
  clockChangeSchema,
  type Flatten,
  flattenSchema,
  type OpenAccount,
  openAccountSchema,
} from "./requests.ts";
import { startExchangeThread } from "./start-thread.ts";
import type { Asked, AskName, FromExchange, Question, ToExchange } from "./thread-protocol.ts";
import { readCommand } from "./wire.ts";
import { type Said, WordFaults } from "./word-faults.ts";

export interface VenueOptions {
  readonly port: number;
  readonly stateFile: string;
  /** false: it gives data alone, as a feed without an account does. */
  readonly takesOrders?: boolean;
}

interface Waiting {
  readonly resolve: (answer: unknown) => void;
  readonly reject: (error: Error) => void;
}

export class Venue {
  readonly #server: Server;
  readonly #sockets: WebSocketServer;
  readonly #thread: Worker;
  readonly #signal = new SharedArrayBuffer(4);
  readonly #inbox: Inbox;
  readonly #words = new WordFaults();
  /** Until this real time no line is taken. */
  #brokenUntil = 0;
  readonly #clients = new Map<number, WebSocket>();
  readonly #waiting = new Map<number, Waiting>();
  #lastClient = 0;
  #lastQuestion = 0;
  #isStopping = false;
  readonly #takesOrders: boolean;

  constructor({ port, stateFile, takesOrders = true }: VenueOptions) {
    this.#takesOrders = takesOrders;
    this.#thread = startExchangeThread({ stateFile, signal: this.#signal });
    this.#thread.on("message", (message: FromExchange) => this.#fromExchange(message));
    this.#thread.on("error", (error) => {
      // A venue without its exchange is none: the process ends, and is started again with the state as it was written last.
      if (!this.#isStopping) queueMicrotask(() => Promise.reject(error));
    });
    this.#inbox = new Inbox(port);
    this.#server = createServer(this.#app());
    this.#sockets = new WebSocketServer({
      server: this.#server,
      path: "/feed",
      maxPayload: 4_000_000,
      verifyClient: ({ req }: { req: IncomingMessage }) => isFromProgram(req) && Date.now() >= this.#brokenUntil,
    });
    this.#sockets.on("connection", (socket) => this.#connected(socket));
    this.#server.listen(port, "127.0.0.1");
  }

  #toExchange(message: ToExchange): void {
    this.#thread.postMessage(message);
    const signal = new Int32Array(this.#signal);
    Atomics.add(signal, 0, 1);
    Atomics.notify(signal, 0);
  }

  #fromExchange(message: FromExchange): void {
    if (message.type === "say") {
      for (const said of this.#words.through(message)) this.#tell(said);
      return;
    }
    if (message.type === "stopped") return;
    const waiting = this.#waiting.get(message.id);
    this.#waiting.delete(message.id);
    if (message.type === "answer") waiting?.resolve(message.answer);
    else waiting?.reject(new PlanTesterError(message.code, message.message, {}));
  }

  #tell({ clients, message }: Said): void {
    const text = JSON.stringify(message);
    const send = (): void => {
      for (const id of clients ?? this.#clients.keys()) {
        const socket = this.#clients.get(id);
        if (socket?.readyState === socket?.OPEN) socket?.send(text);
      }
    };
    const { delayMs } = this.#words.counts.left;
    if (delayMs > 0) setTimeout(send, delayMs);
    else send();
  }

  // --- faults, for practice -----------------------------------------------------------------------------------------

  async #faults(): Promise<VenueFaults> {
    const orders = await this.#ask("orderFaults", { change: null });
    return { ...this.#words.counts.left, ...orders, breakSeconds: Math.max(0, Math.ceil((this.#brokenUntil - Date.now()) / 1000)) };
  }

  async #setFaults({ breakSeconds, ...change }: VenueFaultsChange): Promise<VenueFaults> {
    const { refuseEntries, refuseExits, halveEntries, ...words } = { ...(await this.#faults()), ...change };
    this.#words.counts.left = words;
    await this.#ask("orderFaults", { change: { refuseEntries, refuseExits, halveEntries } });
    if (breakSeconds !== undefined) {
      this.#brokenUntil = Date.now() + breakSeconds * 1000;
      if (breakSeconds > 0) for (const socket of this.#clients.values()) socket.terminate();
    }
    return this.#faults();
  }

  #ask<Name extends AskName>(name: Name, given: Asked[Name]["ask"]): Promise<Asked[Name]["answer"]> {
    const id = ++this.#lastQuestion;
    return new Promise((resolve, reject) => {
      this.#waiting.set(id, { resolve: resolve as Waiting["resolve"], reject });
      this.#toExchange({ type: "ask", id, question: { name, given } as Question });
    });
  }

  /** Ends the exchange, with its state written down. */
  async close(): Promise<void> {
    this.#isStopping = true;
    const ended = new Promise((resolve) => this.#thread.once("exit", resolve));
    this.#toExchange({ type: "stop" });
    for (const socket of this.#clients.values()) socket.terminate();
    this.#sockets.close();
    this.#inbox.close();
    this.#server.close();
    await ended;
  }

  // --- WebSocket ----------------------------------------------------------------------------------------------------

  #connected(socket: WebSocket): void {
    const id = ++this.#lastClient;
    this.#clients.set(id, socket);
    socket.on("error", () => undefined);
    socket.on("close", () => {
      this.#clients.delete(id);
      this.#toExchange({ type: "gone", client: id });
    });
    socket.on("message", (data) => {
      try {
        const message = readMessage(String(data));
        if (message.type === "commands" && !this.#takesOrders) {
          const { account, owner, first } = message;
          const reason = "this venue gives data alone: it takes no orders";
          return socket.send(JSON.stringify({ type: "refused", account, owner, awaited: first, reason } satisfies VenueMessage));
        }
        this.#toExchange({ type: "client", client: id, message });
      } catch (error) {
        // A client that says what nobody understands can't be relied on to have answered either.
        socket.close(1008, String((error as Error).message).slice(0, 120));
      }
    });
  }

  // --- HTTP ---------------------------------------------------------------------------------------------------------

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
    app.get("/inbox", (_request, response) => void response.json(this.#inbox.list()));
    app.all("/inbox/calls{/*path}", express.text({ type: () => true, limit: "256kb" }), ({ method, path, headers, body }, response) => {
      const plain = Object.entries(headers).map(([name, value]): [string, string] => [name, String(value)]);
      this.#inbox.takeCall({ method, path, headers: Object.fromEntries(plain), body: typeof body === "string" ? body : "" });
      response.json({ taken: true });
    });
    app.use(express.json({ limit: "256kb" }));
    app.get("/status", async (_request, response) => {
      response.json({ ...(await this.#ask("status", {})), saidMs: Date.now() + this.#words.skewMs, takesOrders: this.#takesOrders });
    });
    app.post("/clock", async (request, response) => {
      response.json(await this.#ask("setClock", check<ClockChange>(clockChangeSchema, request.body, "the clock")));
    });
    app.get("/faults", async (_request, response) => void response.json(await this.#faults()));
    app.patch("/faults", async (request, response) => {
      response.json(await this.#setFaults(check<VenueFaultsChange>(venueFaultsSchema, request.body, "the faults")));
    });
    app.post("/jumps", async (request, response) => {
      await this.#ask("jump", check<PriceJump>(priceJumpSchema, request.body, "the jump"));
      response.json({});
    });
    app.post("/kill", (_request, response) => {
      // As by kill -9: what was not written down is lost.
      response.on("close", () => process.kill(process.pid, "SIGKILL"));
      response.json({});
    });
    app.get("/bars", async (request, response) => {
      const { symbol, from } = request.query;
      const columns = await this.#ask("bars", { symbol: String(symbol), fromMs: Number(from) || 0 });
      response.type("application/octet-stream").send(Buffer.from(packBars(columns)));
    });
    app.get("/history/:symbol/:date", async (request, response) => {
      const { symbol, date } = request.params;
      const fromMs = Date.parse(`${date}T00:00:00Z`);
      const { nowMs } = await this.#ask("status", {});
      // A day that is not over is not there yet.
      if (!/^\d{4}-\d\d-\d\d$/.test(date) || !(fromMs + DAY_MS <= nowMs)) return void response.status(404).end();
      const columns = await this.#ask("bars", { symbol, fromMs });
      const minutes = sliceColumns(columns, 0, lowerBound(columns.time, fromMs + DAY_MS));
      if (minutes.time.length === 0) return void response.status(404).end();
      response.type("text/csv").send([...barsAsText(minutes, "csv")].join(""));
    });
    app.get("/holdings", async (_request, response) => void response.json(await this.#ask("holdings", {})));
    app.post("/accounts", async (request, response) => {
      const { id, instruments, settings, timeframe } = check<OpenAccount>(openAccountSchema, request.body, "the account");
      parseTimeframe(timeframe);
      await this.#ask("openAccount", {
        ...{ id, timeframe, instruments: instruments.map(readInstrument), settings: resolveSettings(settings) },
      });
      response.json({});
    });
    app.delete("/accounts/:id", async (request, response) => {
      await this.#ask("closeAccount", { id: request.params.id });
      response.json({});
    });
    app.post("/accounts/:id/:owner/flatten", async (request, response) => {
      const { id, owner } = request.params;
      const { only = "everything" } = check<Flatten>(flattenSchema, request.body ?? {}, "what is to be closed");
      await this.#ask("flatten", { id, owner, only });
      response.json({});
    });
    app.post("/accounts/:id/:owner/trade", async (request, response) => {
      const { id, owner } = request.params;
      await this.#ask("trade", { id, owner, ...check<OtherTrade>(otherTradeSchema, request.body, "the trade") });
      response.json({});
    });
    app.post("/accounts/:id/:owner/orders/:order/cancel", async (request, response) => {
      const { id, owner, order } = request.params;
      response.json({ done: await this.#ask("cancel", { id, owner, orderId: Number(order) }) });
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

/** @throws PlanTesterError bad-input when it is no message that a client may send. */
function readMessage(text: string): ClientMessage {
  const given = JSON.parse(text) as { readonly type?: ClientMessage["type"] };
  const schema = CLIENT_SCHEMAS[given.type as ClientMessage["type"]];
  if (!schema) throw new PlanTesterError("bad-input", `A message of type ${JSON.stringify(given.type)} is not known.`, {});
  const message = check<ClientMessage>(schema, given, `the message "${given.type}"`);
  if (message.type !== "commands") return message;
  const commands = message.commands.map((command) =>
    readCommand(check<PlanCommand>(COMMAND_SCHEMAS[command.kind], command, `the command "${command.kind}"`)),
  );
  return { ...message, commands };
}

function packBars(columns: BarColumns): Uint8Array {
  const names = ["time", "open", "high", "low", "close", "volume", "spread"] as const;
  return packColumns(
    {},
    names.flatMap((name) => (columns[name] ? [{ name, values: columns[name] }] : [])),
  );
}
