/**
 * The thread that the exchange lives in. It is one loop that does everything in order. Where the clock holds it waits, in the
 * middle of a bar's path if need be, until every client has answered what was said: so what is sent from a fill handler works
 * from that very point of the path (R2.4).
 */
import { existsSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { deserialize, serialize } from "node:v8";
import { parentPort, receiveMessageOnPort, workerData } from "node:worker_threads";
import { PlanTesterError } from "@plan-tester/core";
import { HISTORY_TO } from "@plan-tester/demo";
import { VenueTime } from "./clock.ts";
import { Exchange, type ExchangeState, keyOf, type Unnumbered } from "./exchange.ts";
import type { ClientMessage, VenueClock, VenueMessage, VenueWordMessage } from "./protocol.ts";
import { broughtUp, STATE_VERSION } from "./state-steps.ts";
import type { FromExchange, Question, ThreadStart, ToExchange } from "./thread-protocol.ts";

const { stateFile, signal: shared } = workerData as ThreadStart;
const port = parentPort!;
const signal = new Int32Array(shared);

const STATUS_MS = 100;
const SAVE_MS = 500;
const START_SPEED = 60;
/** Faster than this is for a rush through some days; one that was cut off does not go on after a restart. */
const MOST_KEPT_SPEED = 10_000;
/** Faster than this a minute is over before anybody could tell its steps apart. */
const MOST_STEPPED_SPEED = 120;
/** A client that has not answered for so long is not waited for until it has caught up. */
const PATIENCE_MS = 5000;

interface VenueState extends ExchangeState {
  readonly version: typeof STATE_VERSION;
  readonly speed: number;
  readonly holds: boolean;
}

interface Client {
  answers: boolean;
  acknowledged: number;
  isLate: boolean;
  readonly follows: Set<string>;
}

const now = (): number => performance.now();

/** What was written down last; a file that can't be read is put aside, not written over. */
function stateBefore(): VenueState | null {
  if (!existsSync(stateFile)) return null;
  try {
    return broughtUp(deserialize(readFileSync(stateFile))) as unknown as VenueState;
  } catch (error) {
    const aside = `${stateFile}.unreadable`;
    renameSync(stateFile, aside);
    console.error(`The practice venue's state could not be read (${String(error)}); it begins anew. The file is kept as ${aside}.`);
    return null;
  }
}

const state = stateBefore();
const time = new VenueTime({
  marketMs: state?.nowMs ?? HISTORY_TO,
  realMs: now(),
  speed: state?.speed ?? START_SPEED,
  holds: state?.holds ?? true,
});
const exchange = new Exchange(state ?? { nowMs: HISTORY_TO, legs: null, accounts: [], jumps: [] }, say);
const clients = new Map<number, Client>();
let seq = 0;
let stopping = false;
/** Something that was asked for is being done: what it brings about is told, but not waited for. */
let doing = 0;
let saved = 0;
let trouble = "";

const post = (message: FromExchange): void => port.postMessage(message);
const clock = (): VenueClock => ({
  nowMs: Math.max(exchange.nowMs, Math.min(time.at(now()), exchange.nextMs)),
  speed: time.speed,
  pace: time.pace,
  holds: time.holds,
  trouble,
});

// --- what is said -----------------------------------------------------------------------------------------------------

function say(word: Unnumbered): void {
  const message = { ...word, seq: ++seq, saidMs: Date.now() } as VenueWordMessage;
  const to = message.type === "report" ? [keyOf(message.to)] : message.type === "price" ? message.accounts.map(keyOf) : null;
  const told = [...clients].filter(([, { follows }]) => !to || to.some((key) => follows.has(key)));
  if (told.length === 0) return;
  post({ type: "say", clients: told.map(([id]) => id), message });
  if (time.holds && doing === 0) waitFor(seq, told);
}

function waitFor(number: number, told: readonly (readonly [number, Client])[]): void {
  const began = now();
  for (;;) {
    const seen = Atomics.load(signal, 0);
    drain();
    const missing = told.filter(([id, client]) => clients.has(id) && client.answers && !client.isLate && client.acknowledged < number);
    if (missing.length === 0 || stopping) return;
    if (exchange.goOn()) continue;
    const left = began + PATIENCE_MS - now();
    if (left <= 0) {
      for (const [, client] of missing) client.isLate = true;
      return;
    }
    Atomics.wait(signal, 0, seen, left);
  }
}

// --- what is asked ----------------------------------------------------------------------------------------------------

function drain(): void {
  for (let received = receiveMessageOnPort(port); received; received = receiveMessageOnPort(port)) {
    const message = received.message as ToExchange;
    if (message.type === "stop") stopping = true;
    else if (message.type === "gone") gone(message.client);
    else {
      doing++;
      try {
        if (message.type === "client") fromClient(message.client, message.message);
        else answer(message.id, message.question);
      } finally {
        doing--;
      }
    }
  }
}

function gone(id: number): void {
  const client = clients.get(id);
  clients.delete(id);
  for (const key of client?.follows ?? [])
    if (![...clients.values()].some(({ follows }) => follows.has(key))) {
      const [account, owner] = key.split(" ") as [string, string];
      exchange.leave({ account, owner });
    }
}

function fromClient(id: number, message: ClientMessage): void {
  if (message.type === "hello") {
    clients.set(id, { answers: message.answers, acknowledged: seq, isLate: false, follows: new Set() });
    return;
  }
  const client = clients.get(id);
  if (!client) return;
  const reply = (said: VenueMessage): void => post({ type: "say", clients: [id], message: said });
  switch (message.type) {
    case "ack":
      client.acknowledged = Math.max(client.acknowledged, message.seq);
      if (client.acknowledged >= seq) client.isLate = false;
      break;
    case "follow":
      try {
        const followed = exchange.follow(message);
        client.follows.add(keyOf(message));
        reply(followed);
      } catch (error) {
        reply({ type: "refused", account: message.account, owner: message.owner, awaited: 0, reason: (error as Error).message });
      }
      break;
    case "leave":
      client.follows.delete(keyOf(message));
      exchange.leave(message);
      break;
    case "commands": {
      const refusal = exchange.command(message);
      if (refusal) reply(refusal);
    }
  }
}

/** What is asked in the middle of a moment that must be over first. */
const postponed: (() => void)[] = [];

function answer(id: number, question: Question): void {
  if (question.name === "openAccount" && exchange.mustWait(question.given)) {
    postponed.push(() => answer(id, question));
    return;
  }
  try {
    post({ type: "answer", id, answer: answerTo(question) });
  } catch (error) {
    const code = error instanceof PlanTesterError ? error.code : "unavailable";
    post({ type: "refusal", id, code, message: (error as Error).message });
  }
}

function answerTo(question: Question): unknown {
  const { name, given } = question;
  switch (name) {
    case "status":
      return clock();
    case "setClock":
      if (given.speed !== undefined) time.setSpeed(given.speed, now());
      if (given.holds !== undefined) time.holds = given.holds;
      return clock();
    case "bars":
      return exchange.bars(given.symbol, given.fromMs);
    case "openAccount":
      exchange.openAccount(given);
      return null;
    case "closeAccount":
      exchange.closeAccount(given.id);
      return null;
    case "holdings":
      return exchange.holdings();
    case "orderFaults":
      if (given.change) exchange.orderFaults.left = given.change;
      return exchange.orderFaults.left;
    case "cancel":
      return exchange.cancel(given.id, given.owner, given.orderId);
    case "flatten":
      exchange.flatten(given.id, given.owner, given.only);
      return null;
    case "jump":
      exchange.jump(given);
      return null;
    case "trade":
      exchange.trade(given.id, given.owner, given);
      return null;
  }
}

// --- what is kept -----------------------------------------------------------------------------------------------------

/** Writes the state down. Where that fails the venue goes on with what it has in memory, says so, and tries again. */
function save(): void {
  saved = now();
  try {
    const speed = time.speed > MOST_KEPT_SPEED ? START_SPEED : time.speed;
    const written: VenueState = { version: STATE_VERSION, ...exchange.state(), speed, holds: time.holds };
    writeFileSync(`${stateFile}.new`, serialize(written));
    renameSync(`${stateFile}.new`, stateFile);
    exchange.isDirty = false;
    if (trouble) console.error("The practice venue's state is written down again.");
    trouble = "";
  } catch (error) {
    const { code = "" } = error as NodeJS.ErrnoException;
    const why = code === "ENOSPC" ? "the disk of the data folder is full" : String((error as Error).message);
    if (!trouble) console.error(`The practice venue's state is not written down: ${why}`);
    trouble = `The venue's state is not written down: ${why}. A restart now would lose what happened since.`;
  }
}

// --- the loop ---------------------------------------------------------------------------------------------------------

let told = 0;
while (!stopping) {
  const seen = Atomics.load(signal, 0);
  drain();
  const real = now();
  exchange.walksInSteps = time.speed <= MOST_STEPPED_SPEED;
  const { nextMs } = exchange;
  const due = nextMs === Number.POSITIVE_INFINITY ? nextMs : time.dueAt(nextMs, real);
  if (due <= real) {
    exchange.step();
    for (const ask of postponed.splice(0)) ask();
    time.passed(nextMs, now());
    if (exchange.walksInSteps && clients.size > 0)
      post({ type: "say", clients: null, message: { type: "forming", timeMs: nextMs, minutes: exchange.forming() } });
  }
  if (real - told > STATUS_MS) {
    told = real;
    post({ type: "say", clients: null, message: { type: "status", ...clock() } });
  }
  // What an account went through is kept before the next moment; the clock alone, now and then. After a failure, now and then.
  if ((exchange.isDirty && !trouble) || real - saved > SAVE_MS) save();
  if (due > real) Atomics.wait(signal, 0, seen, Math.min(due - real, STATUS_MS));
}
save();
post({ type: "stopped" });
port.close();
