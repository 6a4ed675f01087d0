/** The server's line to the practice venue: HTTP for commands, one WebSocket for the feed, made again when it breaks. */
import { type Packed, unpackColumns } from "@plan-tester/contract";
import { type EngineSettings, type Instrument, type OrderChange, PlanTesterError } from "@plan-tester/core";
import type { AccountReport, VenueClock, VenueMessage } from "@plan-tester/venue";
import { WebSocket } from "ws";

const RETRY_MS = 500;

export class VenueClient {
  readonly #base: string;
  #socket: WebSocket | null = null;
  #closed = false;
  readonly #onMessage: (message: VenueMessage) => void;
  readonly #onState: (connected: boolean) => void;

  constructor(port: number, onMessage: (message: VenueMessage) => void, onState: (connected: boolean) => void) {
    this.#base = `http://127.0.0.1:${port}`;
    this.#onMessage = onMessage;
    this.#onState = onState;
    this.#connect();
  }

  #connect(): void {
    if (this.#closed) return;
    const socket = new WebSocket(`${this.#base.replace("http", "ws")}/feed`);
    this.#socket = socket;
    socket.on("open", () => this.#onState(true));
    socket.on("message", (data) => this.#onMessage(JSON.parse(String(data)) as VenueMessage));
    socket.on("error", () => undefined);
    socket.on("close", () => {
      this.#onState(false);
      if (!this.#closed) setTimeout(() => this.#connect(), RETRY_MS).unref();
    });
  }

  close(): void {
    this.#closed = true;
    this.#socket?.close();
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

  status(): Promise<VenueClock> {
    return this.#call("GET", "/status");
  }

  setSpeed(speed: number): Promise<VenueClock> {
    return this.#call("POST", "/speed", { speed });
  }

  openAccount(id: string, instrument: Instrument, settings: EngineSettings): Promise<AccountReport> {
    return this.#call("POST", "/accounts", { id, instrument, settings });
  }

  account(id: string): Promise<AccountReport> {
    return this.#call("GET", `/accounts/${id}`);
  }

  closeAccount(id: string): Promise<unknown> {
    return this.#call("DELETE", `/accounts/${id}`);
  }

  submit(id: string, clientId: number, ticket: unknown): Promise<unknown> {
    return this.#call("POST", `/accounts/${id}/orders`, { clientId, ticket });
  }

  cancel(id: string, clientId: number): Promise<unknown> {
    return this.#call("POST", `/accounts/${id}/orders/${clientId}/cancel`);
  }

  modify(id: string, clientId: number, change: OrderChange): Promise<unknown> {
    return this.#call("POST", `/accounts/${id}/orders/${clientId}/change`, change);
  }

  setExits(id: string, which: "stop" | "target", price: number | null): Promise<unknown> {
    return this.#call("POST", `/accounts/${id}/exits`, { which, price });
  }

  flatten(id: string): Promise<unknown> {
    return this.#call("POST", `/accounts/${id}/flatten`);
  }

  /** Finished minutes since the end of the history. */
  async bars(symbol: string): Promise<Packed<unknown>> {
    const response = await fetch(`${this.#base}/bars?symbol=${encodeURIComponent(symbol)}`);
    if (!response.ok) throw new PlanTesterError("unavailable", `The venue has no bars of ${symbol}.`, {});
    return unpackColumns(await response.arrayBuffer());
  }
}
