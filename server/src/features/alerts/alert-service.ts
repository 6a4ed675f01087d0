/**
 * Alerts on their way: a rule picks them, each goes through its channels with growing pauses between attempts, and what became
 * of it is written down. What waits when the server ends is sent by the next one, so an alert may come twice, never silently not.
 */
import type {
  AlertChannel,
  AlertCounts,
  AlertDelivery,
  AlertPreview,
  AlertSetup,
  AlertsView,
  DeliveriesPage,
  DeliveriesQuery,
} from "@plan-tester/contract";
import { DAY_MS, PlanTesterError } from "@plan-tester/core";
import PQueue from "p-queue";
import pRetry, { AbortError } from "p-retry";
import type { Background } from "../../background.ts";
import type { AlertDeliveryRow } from "../../db/entities.ts";
import type { EventStream } from "../../http/events.ts";
import { messageOf } from "../../text.ts";
import { type Alert, channelsFor, fieldsOf } from "./alert.ts";
import { type AlertRepository, type NewDelivery, told } from "./alert-repository.ts";
import { quietFor } from "./quiet.ts";
import { callOf, type Fields, mailOf, sendCall, sendMail } from "./senders.ts";
import { checkChannel, checkSetup, FIRST_SETUP } from "./setup.ts";

/** How often and when a channel that fails is tried again, and the length of the minute of its limit: others for tests. */
export interface AlertPace {
  readonly retries: number;
  readonly firstPauseMs: number;
  readonly factor: number;
  readonly maxPauseMs: number;
  readonly minuteMs: number;
}

const PACE: AlertPace = { retries: 6, firstPauseMs: 5000, factor: 4, maxPauseMs: 15 * 60_000, minuteMs: 60_000 };
/** That a channel works on at once, and that wait for it. */
const AT_ONCE = 4;
const MAX_WAITING = 500;
/** Outcomes are kept so long. */
const KEPT_MS = 90 * DAY_MS;

const NONE: AlertCounts = { sent: 0, failed: 0 };

const EXAMPLE: Alert = {
  ...{ watchId: "example", watchName: "Example watch", planTitle: "Example plan", symbol: "KELP", event: "filled", level: "notice" },
  ...{ text: "bought 2 KELP at 412.50", by: "venue", timeMs: Date.UTC(2025, 5, 2, 9, 30), atMs: Date.UTC(2025, 5, 2, 9, 30) },
};

export interface AlertParts {
  readonly repository: AlertRepository;
  readonly background: Background;
  readonly events: EventStream;
  readonly pace?: AlertPace;
}

export class AlertService {
  readonly #repository: AlertRepository;
  readonly #background: Background;
  readonly #events: EventStream;
  readonly #pace: AlertPace;
  #setup: AlertSetup = FIRST_SETUP;
  #secrets: Map<string, string> = new Map();
  #queues = new Map<string, PQueue>();
  /** Deliveries that wait for their turn or for the end of the quiet hours, by channel. */
  readonly #waiting = new Map<string, Set<number>>();
  readonly #quiet = new Set<NodeJS.Timeout>();
  /** Changes of the setup in their order. */
  #changes: Promise<unknown> = Promise.resolve();
  /** Writings in their order. */
  #line: Promise<unknown> = Promise.resolve();
  readonly #end = new AbortController();
  #last: Alert | null = null;
  #counts = new Map<string, AlertCounts>();

  constructor({ repository, background, events, pace = PACE }: AlertParts) {
    this.#repository = repository;
    this.#background = background;
    this.#events = events;
    this.#pace = pace;
  }

  /** Reads what there is, and goes on with what waits. */
  async open(nowMs: number): Promise<void> {
    this.#setup = (await this.#repository.setup()) ?? FIRST_SETUP;
    this.#secrets = await this.#repository.secrets();
    await this.#repository.prune(nowMs - KEPT_MS);
    this.#counts = await this.#repository.counts();
    for (const row of await this.#repository.waiting()) this.#enqueue(row);
  }

  /** What became of the alerts of a watch. */
  countsOf(watchId: string): AlertCounts {
    return this.#counts.get(watchId) ?? NONE;
  }

  #count({ watchId, event, state }: Pick<AlertDelivery, "watchId" | "event" | "state">): void {
    if (event === "test" || state === "waiting") return;
    const { sent, failed } = this.countsOf(watchId);
    this.#counts.set(watchId, state === "sent" ? { sent: sent + 1, failed } : { sent, failed: failed + 1 });
  }

  // --- channels and rules -------------------------------------------------------------------------------------------

  view(): AlertsView {
    return { setup: this.#setup, withSecret: [...this.#secrets.keys()] };
  }

  /** @throws PlanTesterError conflict where it was changed meanwhile, or bad-input */
  change(setup: AlertSetup): Promise<AlertsView> {
    const changed = this.#changes.then(() => this.#change(setup));
    this.#changes = changed.catch(() => undefined);
    return changed;
  }

  async #change(setup: AlertSetup): Promise<AlertsView> {
    if (setup.revision !== this.#setup.revision)
      throw new PlanTesterError(
        "conflict",
        "The alerts were changed in another window meanwhile. Reload the page, then change them again.",
        {
          revision: this.#setup.revision,
        },
      );
    checkSetup(setup);
    const next = { ...setup, revision: setup.revision + 1 };
    await this.#repository.save(next);
    if (next.perMinute !== this.#setup.perMinute) this.#queues = new Map();
    this.#setup = next;
    this.#secrets = await this.#repository.secrets();
    return this.view();
  }

  #channel(id: string): AlertChannel {
    const channel = this.#setup.channels.find((one) => one.id === id);
    if (!channel) throw new PlanTesterError("not-found", `There is no channel "${id}". Save it first.`, { id });
    return channel;
  }

  /** @param secret "" removes it */
  async setSecret(channelId: string, secret: string): Promise<void> {
    this.#channel(channelId);
    await this.#repository.setSecret(channelId, secret);
    this.#secrets = await this.#repository.secrets();
  }

  preview(channel: AlertChannel): AlertPreview {
    checkChannel(channel);
    const alert = this.#last ?? EXAMPLE;
    const fields = { ...fieldsOf(alert), id: "0" };
    const of = `${alert.watchName}: ${alert.text}`;
    const base = { of, isExample: this.#last === null, subject: "", body: alert.text, headers: [] };
    if (channel.email) return { ...base, ...mailOf(channel.email, fields) };
    if (channel.call) return { ...base, ...callOf(channel.call, this.#secrets.has(channel.id) ? "secret" : "", fields, Date.now()) };
    return base;
  }

  // --- on their way -------------------------------------------------------------------------------------------------

  /** Sends what a rule wants. Settles when it is written down. */
  take(alerts: readonly Alert[]): Promise<void> {
    const rows: NewDelivery[] = [];
    for (const alert of alerts) {
      this.#last = alert;
      for (const channel of channelsFor(alert, this.#setup)) {
        if (channel.kind === "screen") this.#show(alert);
        const row = this.#rowOf(alert, channel);
        this.#count(row);
        rows.push(row);
      }
    }
    if (rows.length === 0) return Promise.resolve();
    return this.#write("alerts were not written down", async () => {
      for (const row of await this.#repository.insert(rows)) if (row.state === "waiting") this.#enqueue(row);
    });
  }

  #show({ watchId, watchName, level, text }: Pick<Alert, "watchId" | "watchName" | "level" | "text">): void {
    this.#events.send({ type: "alert", watchId, watchName, level, text });
  }

  #rowOf(alert: Alert, { id, name, kind }: AlertChannel): NewDelivery {
    const { watchId, watchName, event, level, text, atMs } = alert;
    const base = {
      atMs,
      watchId,
      watchName,
      event,
      level,
      text,
      fields: fieldsOf(alert),
      channelId: id,
      channelName: name,
      tries: 0,
      doneMs: 0,
    };
    if (kind === "screen") return { ...base, state: "sent", outcome: "shown on open pages", doneMs: atMs };
    if ((this.#waiting.get(id)?.size ?? 0) >= MAX_WAITING)
      return { ...base, state: "left out", outcome: `${MAX_WAITING} alerts wait for this channel already; this one is not sent` };
    return { ...base, state: "waiting", outcome: "" };
  }

  #write(what: string, work: () => Promise<unknown>): Promise<void> {
    const done = this.#line.then(() => this.#background.insist(what, {}, work)).then(() => this.#events.send({ type: "delivery" }));
    this.#line = done;
    return done;
  }

  #note(row: AlertDeliveryRow, change: Partial<AlertDelivery>): Promise<void> {
    return this.#write("the outcome of an alert was not written down", () => this.#repository.update(row.id, change));
  }

  #enqueue(row: AlertDeliveryRow): void {
    const waiting = this.#waiting.get(row.channelId) ?? new Set<number>();
    this.#waiting.set(row.channelId, waiting.add(row.id));
    const { quiet, perMinute } = this.#setup;
    const waitMs = quiet.lets && row.level === "alert" ? 0 : quietFor(quiet, Date.now());
    if (waitMs > 0) {
      void this.#note(row, { outcome: `waits for the end of the quiet hours at ${quiet.to}` });
      const timer = setTimeout(() => {
        this.#quiet.delete(timer);
        this.#enqueue(row);
      }, waitMs);
      this.#quiet.add(timer);
      return;
    }
    let queue = this.#queues.get(row.channelId);
    if (!queue) {
      queue = new PQueue({ concurrency: AT_ONCE, intervalCap: perMinute, interval: this.#pace.minuteMs });
      this.#queues.set(row.channelId, queue);
    }
    this.#background.run("an alert was not sent", { channel: row.channelId }, () => queue.add(() => this.#deliver(row)));
  }

  /** Attempts until it is taken, given up, or the server ends. */
  async #deliver(row: AlertDeliveryRow): Promise<void> {
    const { retries, firstPauseMs, factor, maxPauseMs } = this.#pace;
    const { signal } = this.#end;
    this.#waiting.get(row.channelId)?.delete(row.id);
    // Case: a queue of a limit that held before goes on to its end.
    if (signal.aborted) return;
    let tries = row.tries;
    try {
      const outcome = await pRetry(
        async () => {
          tries++;
          return this.#attempt(row);
        },
        {
          ...{ retries, minTimeout: firstPauseMs, factor, maxTimeout: maxPauseMs, signal },
          onFailedAttempt: ({ error, retriesLeft }) => {
            const pauseMs = Math.min(maxPauseMs, firstPauseMs * factor ** (tries - row.tries - 1));
            const again = retriesLeft > 0 ? `; tried again in ${Math.round(pauseMs / 1000)} s` : "";
            return this.#note(row, { tries, outcome: `${messageOf(error)}${again}`, doneMs: Date.now() });
          },
        },
      );
      this.#count({ ...row, state: "sent" });
      await this.#note(row, { state: "sent", tries, outcome, doneMs: Date.now() });
    } catch (error) {
      // Case: the server ends. The next one goes on with it.
      if (signal.aborted) return;
      this.#count({ ...row, state: "failed" });
      await this.#note(row, { state: "failed", tries, outcome: messageOf(error), doneMs: Date.now() });
      this.#show({ ...row, level: "warning", text: `not sent through ${row.channelName}: ${messageOf(error)}` });
    }
  }

  /** @returns what the other side answered. @throws AbortError where another attempt can't help */
  async #attempt(row: AlertDeliveryRow): Promise<string> {
    const channel = this.#setup.channels.find(({ id }) => id === row.channelId);
    if (!channel?.isOn && row.event !== "test") throw new AbortError(channel ? "the channel was switched off" : "the channel was removed");
    try {
      return await this.#send(channel!, { ...row.fields, id: String(row.id) });
    } catch (error) {
      if (error instanceof PlanTesterError) throw new AbortError(error);
      throw error;
    }
  }

  #send({ id, email, call }: AlertChannel, fields: Fields): Promise<string> {
    const secret = this.#secrets.get(id) ?? "";
    if (email) return sendMail(email, secret, fields);
    if (call) return sendCall(call, secret, fields, this.#setup.allowsPrivate);
    return Promise.resolve("shown on open pages");
  }

  /** One attempt, whatever the hour. @throws PlanTesterError not-found */
  async test(channelId: string): Promise<AlertDelivery> {
    const channel = this.#channel(channelId);
    const alert: Alert = {
      ...EXAMPLE,
      watchName: "Test",
      event: "test",
      text: "This is a test of your alerts.",
      by: "user",
      atMs: Date.now(),
    };
    const [row] = await this.#repository.insert([{ ...this.#rowOf(alert, channel), state: "waiting", outcome: "" }]);
    if (channel.kind === "screen") this.#show(alert);
    const doneMs = Date.now();
    const outcome: Partial<AlertDelivery> = await this.#send(channel, { ...row!.fields, id: String(row!.id) }).then(
      (answer) => ({ state: "sent", tries: 1, outcome: answer, doneMs }),
      (error: unknown) => ({ state: "failed", tries: 1, outcome: messageOf(error), doneMs }),
    );
    await this.#note(row!, outcome);
    return told({ ...row!, ...outcome });
  }

  deliveries(query: DeliveriesQuery): Promise<DeliveriesPage> {
    return this.#repository.page(query);
  }

  /** Settles when what can be written is written; what waits is sent by the next server. */
  async close(): Promise<void> {
    this.#end.abort();
    for (const timer of this.#quiet) clearTimeout(timer);
    for (const queue of this.#queues.values()) queue.clear();
    await this.#line;
  }
}
