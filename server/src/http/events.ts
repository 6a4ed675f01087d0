/** Server-sent events: what the server has to tell without being asked. */
import type { ServerEvent } from "@plan-tester/contract";
import type { RequestHandler, Response } from "express";

const HEARTBEAT_MS = 20_000;

export class EventStream {
  readonly #clients = new Set<Response>();

  constructor() {
    setInterval(() => {
      for (const client of this.#clients) client.write(": still here\n\n");
    }, HEARTBEAT_MS).unref();
  }

  readonly handler: RequestHandler = (request, response) => {
    response.set({ "Content-Type": "text/event-stream", "Cache-Control": "no-cache", Connection: "keep-alive" });
    response.flushHeaders();
    response.write("retry: 1000\n\n");
    this.#clients.add(response);
    request.on("close", () => this.#clients.delete(response));
  };

  send(event: ServerEvent): void {
    const text = `data: ${JSON.stringify(event)}\n\n`;
    for (const client of this.#clients) client.write(text);
  }

  close(): void {
    for (const client of this.#clients) client.end();
  }
}
