/**
 * The server's line to a venue: HTTP for what is asked, one WebSocket for what is said both ways, made again when it breaks.
 * A word of the venue is acknowledged when everything that it brought about has been sent, and all words before it.
 */
import {
  type OtherTrade,
  type PracticeInbox,
  type PriceJump,
  unpackColumns,
  type VenueFaults,
  type VenueFaultsChange,
} from "@plan-tester/contract";
import { type BarColumns, type EngineSettings, type Instrument, PlanTesterError } from "@plan-tester/core";
import {
  type ClientMessage,
  type FollowedMessage,
  type OwnerHolding,
  type OwnerReport,
  readAccount,
  readReport,
  type SymbolMinute,
  type VenueAnswer,
  type VenueClock,
  type VenueMessage,
  type VenueWordMessage,
} from "@plan-tester/venue";
import { WebSocket } from "ws";

const RETRY_MS = 500;
/** The venue's clock is compared with ours so often; by answers that take no longer than this, beyond which it is wrong. */
const COMPARE_MS = 10_000;
const SLOW_ANSWER_MS = 1000;

/** What a client tells its owner. */
export interface VenueListener {
  /** Settles when the word has been answered. */
  word(word: VenueWordMessage): Promise<void>;
  followed(message: FollowedMessage): void;
  refused(message: Extract<VenueMessage, { type: "refused" }>): void;
  clock(clock: VenueClock): void;
  /** Minutes that are open now, as far as they have gone. */
  forming(minutes: readonly SymbolMinute[]): void;
  connected(isConnected: boolean): void;
  /** The venue's clock is so far ahead of ours; 0 where it is right again. */
  skewed(skewMs: number): void;
}

export class VenueClient {
  readonly #base: string;
  readonly #listener: VenueListener;
  #socket: WebSocket | null = null;
  #isClosed = false;
  /** Words that are not answered yet, and the last that was said. */
  readonly #open = new Set<number>();
  #lastSeq = 0;
  /** How far the venue's clock is ahead of ours, by a question and its answer. */
  #skewMs = 0;
  readonly #comparing: NodeJS.Timeout;

  constructor(port: number, listener: VenueListener) {
    this.#base = `http://127.0.0.1:${port}`;
    this.#listener = listener;
    this.#connect();
    this.#comparing = setInterval(() => void this.#compareClocks(), COMPARE_MS);
    this.#comparing.unref();
  }

  #connect(): void {
    if (this.#isClosed) return;
    const socket = new WebSocket(`${this.#base.replace("http", "ws")}/feed`);
    this.#socket = socket;
    socket.on("open", () => {
      this.#open.clear();
      this.#lastSeq = 0;
      this.send({ type: "hello", answers: true });
      this.#listener.connected(true);
      void this.#compareClocks();
    });
    socket.on("message", (data) => this.#receive(socket, JSON.parse(String(data)) as VenueMessage));
    socket.on("error", () => undefined);
    socket.on("close", () => {
      if (this.#socket === socket && !this.#isClosed) this.#listener.connected(false);
      if (!this.#isClosed) setTimeout(() => this.#connect(), RETRY_MS).unref();
    });
  }

  /** Half of the way there and back is the most that the answer can be off by. */
  async #compareClocks(): Promise<void> {
    const askedMs = Date.now();
    let saidMs: number;
    try {
      ({ saidMs } = await this.answer());
    } catch {
      // It is compared again in a while.
      return;
    }
    const tookMs = Date.now() - askedMs;
    if (tookMs > SLOW_ANSWER_MS) return;
    const skewMs = saidMs - (askedMs + tookMs / 2);
    const before = this.#skewMs;
    this.#skewMs = Math.abs(skewMs) > SLOW_ANSWER_MS ? skewMs : 0;
    if (Math.abs(this.#skewMs - before) > SLOW_ANSWER_MS) this.#listener.skewed(this.#skewMs);
  }

  #receive(socket: WebSocket, message: VenueMessage): void {
    switch (message.type) {
      case "status":
        return this.#listener.clock(message);
      case "forming":
        return this.#listener.forming(message.minutes);
      case "followed":
        return this.#listener.followed({
          ...message,
          report: readAccount(message.report),
          missed: message.missed?.map(readReport) ?? null,
        });
      case "refused":
        return this.#listener.refused(message);
      default:
        this.#word(socket, {
          ...(message.type === "report" ? readReport(message) : { ...message, accounts: message.accounts.map(read) }),
          // By our clock.
          saidMs: message.saidMs - this.#skewMs,
        });
    }
  }

  #word(socket: WebSocket, word: VenueWordMessage): void {
    this.#open.add(word.seq);
    this.#lastSeq = word.seq;
    void this.#listener.word(word).finally(() => {
      if (this.#socket !== socket) return;
      this.#open.delete(word.seq);
      const first = Math.min(...this.#open);
      this.send({ type: "ack", seq: this.#open.size === 0 ? this.#lastSeq : first - 1 });
    });
  }

  /** How many words wait for their answer. */
  get waiting(): number {
    return this.#open.size;
  }

  /** Sends over the socket; nothing where there is none. */
  send(message: ClientMessage): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(message));
  }

  close(): void {
    this.#isClosed = true;
    clearInterval(this.#comparing);
    this.#socket?.terminate();
  }

  async #call<T>(method: string, path: string, body?: unknown): Promise<T> {
    let response: Response;
    try {
      response = await fetch(`${this.#base}${path}`, {
        method,
        headers: { "Content-Type": "application/json" },
        body: body === undefined ? null : JSON.stringify(body),
      });
    } catch {
      throw new PlanTesterError(
        "unavailable",
        "The practice venue does not answer. It is started with the server; wait a moment and try again.",
        {},
      );
    }
    const answer = (await response.json()) as T & { error?: { code: "bad-input"; message: string } };
    if (!response.ok)
      throw new PlanTesterError(answer.error?.code ?? "unavailable", answer.error?.message ?? `The venue answered ${response.status}.`, {});
    return answer;
  }

  /** How the venue is, and what it can do. */
  answer(): Promise<VenueAnswer> {
    return this.#call("GET", "/status");
  }

  /** What the practice venue took of mails and web calls. */
  inbox(): Promise<PracticeInbox> {
    return this.#call("GET", "/inbox");
  }

  faults(): Promise<VenueFaults> {
    return this.#call("GET", "/faults");
  }

  setFaults(change: VenueFaultsChange): Promise<VenueFaults> {
    return this.#call("PATCH", "/faults", change);
  }

  kill(): Promise<unknown> {
    return this.#call("POST", "/kill");
  }

  setClock(change: { readonly speed?: number | undefined; readonly holds?: boolean | undefined }): Promise<VenueClock> {
    return this.#call("POST", "/clock", change);
  }

  openAccount(id: string, instruments: readonly Instrument[], settings: EngineSettings, timeframe: string): Promise<unknown> {
    return this.#call("POST", "/accounts", { id, instruments, settings, timeframe });
  }

  closeAccount(id: string): Promise<unknown> {
    return this.#call("DELETE", `/accounts/${id}`);
  }

  async holdings(): Promise<OwnerHolding[]> {
    return (await this.#call<OwnerHolding[]>("GET", "/holdings")).map((holding) => ({ ...holding, ...read(holding) }));
  }

  cancel(account: string, owner: string, orderId: number): Promise<{ done: boolean }> {
    return this.#call("POST", `/accounts/${account}/${owner}/orders/${orderId}/cancel`);
  }

  /** @param only "others" for what something else than its plan has opened */
  flatten(account: string, owner: string, only: "everything" | "others" = "everything"): Promise<unknown> {
    return this.#call("POST", `/accounts/${account}/${owner}/flatten`, { only });
  }

  /** A price jumps, for practice. */
  jump(jump: PriceJump): Promise<unknown> {
    return this.#call("POST", "/jumps", jump);
  }

  /** Something else trades under an owner's name, for practice. */
  trade(account: string, owner: string, trade: OtherTrade): Promise<unknown> {
    return this.#call("POST", `/accounts/${account}/${owner}/trade`, trade);
  }

  /** Finished minutes from a time on. */
  async bars(symbol: string, fromMs: number): Promise<BarColumns> {
    const response = await fetch(`${this.#base}/bars?symbol=${encodeURIComponent(symbol)}&from=${fromMs}`).catch(() => {
      throw new PlanTesterError("unavailable", "The practice venue does not answer.", {});
    });
    if (!response.ok) throw new PlanTesterError("unavailable", `The venue has no bars of ${symbol}.`, {});
    return unpackColumns(await response.arrayBuffer()).columns as unknown as BarColumns;
  }
}

const read = (told: OwnerReport): OwnerReport => ({ ...told, report: readAccount(told.report) });
