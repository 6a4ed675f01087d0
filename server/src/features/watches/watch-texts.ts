/** What happened on a watch, in words. */
import type { AlertEvent, WatchEvent } from "@plan-tester/contract";
import type {
  AccountEvent,
  AccountReport,
  Fill,
  Instrument,
  LogLine,
  LotReport,
  Order,
  OrderTicket,
  PlanCommand,
  Trade,
} from "@plan-tester/core";
import type { HeldOrder } from "@plan-tester/runner";

/** An event to be written down, what it is an alert of, and what it explains; nothing where it is no alert or explains nothing. */
export type NewEvent = Omit<WatchEvent, "id" | "atMs" | "cause"> & { readonly alert?: AlertEvent; readonly cause?: WatchEvent["cause"] };

const priceOf = (price: number, { decimals }: Instrument): string => price.toFixed(decimals);
export const bySource = (line: number): string => (line > 0 ? `plan, line ${line}` : "plan");

/** "buy 2 KELP at market", "sell all KELP, stop at 411.50". */
export function orderWords(
  order: Pick<OrderTicket, "side" | "quantity" | "kind" | "price" | "tag" | "atClose">,
  instrument: Instrument,
): string {
  const { side, quantity, kind, price, tag } = order;
  const many = Number.isFinite(quantity) ? String(quantity) : "all";
  const where = kind === "market" ? (order.atClose ? "at the close" : "at market") : `${kind} at ${priceOf(price, instrument)}`;
  return `${side > 0 ? "buy" : "sell"} ${many} ${instrument.symbol} ${where}${tag ? ` (${tag})` : ""}`;
}

/** What a plan has asked for. */
export function commandEvent(command: PlanCommand, instrument: Instrument, timeMs: number): NewEvent {
  const base = { timeMs, level: "" as const, kind: "order" as const, by: "plan" };
  switch (command.kind) {
    case "submit":
      return {
        ...base,
        alert: "order sent",
        by: bySource(command.ticket.line),
        text: `order ${command.orderId}: ${orderWords(command.ticket, instrument)}`,
      };
    case "cancel":
      return { ...base, text: `order ${command.orderId} ${command.isExpiry ? "expired" : "cancelled"}: ${command.note}` };
    case "modify": {
      const { price, quantity, limitPrice } = command.change;
      const parts = [
        ...(price === undefined ? [] : [`price ${priceOf(price, instrument)}`]),
        ...(limitPrice === undefined ? [] : [`limit ${priceOf(limitPrice, instrument)}`]),
        ...(quantity === undefined ? [] : [`quantity ${quantity}`]),
      ];
      return { ...base, text: `order ${command.orderId} changed: ${parts.join(", ")}` };
    }
    case "exits":
      return {
        ...base,
        ...(command.which === "stop" && { alert: "stop moved" as const }),
        text:
          command.price === null
            ? `${command.which} of ${command.symbol} removed`
            : `${command.which} of ${command.symbol} to ${priceOf(command.price, instrument)}`,
      };
    case "due":
      return { ...base, text: `the time limit of order ${command.orderId} is over: it closes at the next open` };
  }
}

function fillWords(fill: Fill, instrument: Instrument): string {
  const { side, quantity, price, source, tag } = fill;
  const how = source === "order" ? "" : ` by ${source}`;
  return `${side > 0 ? "bought" : "sold"} ${quantity} ${instrument.symbol} at ${priceOf(price, instrument)}${how}${tag ? ` (${tag})` : ""}`;
}

function tradeWords({ side, quantity, symbol, reason, net, r }: Trade, currency: string): string {
  const inR = r === null ? "" : `, ${r.toFixed(2)} R`;
  return `${side > 0 ? "long" : "short"} ${quantity} ${symbol} closed by ${reason}: ${net.toFixed(2)} ${currency}${inR}`;
}

const endWords = ({ id, state, note }: Order): string =>
  id < 0 ? `an order of the account itself ${state}: ${note}` : `order ${id} ${state}: ${note}`;

/** What the end of an order explains, and whether it is worth an alert. */
function meaningOf({ state, note }: Order): Pick<NewEvent, "alert" | "cause"> {
  if (state === "refused") return { alert: "refused", cause: "refused" };
  return note.includes("by hand") ? { cause: "by hand" } : {};
}

/** What the venue has told. A plan's own cancelling is told when it asks for it. */
export function reportEvents(event: AccountEvent, instrument: Instrument, currency: string, timeMs: number): NewEvent[] {
  const base = { level: "" as const, by: "venue" };
  switch (event.kind) {
    case "accepted":
      return [{ ...base, timeMs, kind: "order", text: `${event.order.tag || "the account"}: ${orderWords(event.order, instrument)}` }];
    case "filled":
      return [{ ...base, timeMs: event.fill.timeMs, kind: "fill", alert: "filled", text: fillWords(event.fill, instrument) }];
    case "closed":
      return [{ ...base, timeMs: event.trade.exitTime, kind: "trade", alert: "closed", text: tradeWords(event.trade, currency) }];
    case "ended":
      return event.order.state === "cancelled" && event.order.note === "cancelled by the plan"
        ? []
        : [{ ...base, timeMs, kind: "order", ...meaningOf(event.order), text: endWords(event.order) }];
    case "limited":
      return [{ ...base, timeMs: event.hit.timeMs, kind: "state", alert: "account limit", text: event.hit.text }];
    case "opened":
      return [{ ...base, timeMs: event.lot.entryTime, kind: "trade", alert: "opened", text: openedWords(event.lot, instrument) }];
  }
}

/** An entry that the plan wanted and that is not sent. */
export const signalEvent = (
  { order, reason }: HeldOrder,
  cause: WatchEvent["cause"],
  instrument: Instrument,
  timeMs: number,
): NewEvent => ({
  ...{ timeMs, kind: "order", by: bySource(order.line), level: "", alert: "signal", cause },
  text: `signal: ${orderWords(order, instrument)}; not sent: ${reason}`,
});

/** What is open since, with what protects it. */
function openedWords({ side, quantity, entryPrice, stop, target }: LotReport, instrument: Instrument): string {
  const at = (name: string, price: number | null): string => (price === null ? `no ${name}` : `${name} ${priceOf(price, instrument)}`);
  const many = `${side > 0 ? "long" : "short"} ${quantity} ${instrument.symbol}`;
  return `${many} opened at ${priceOf(entryPrice, instrument)}: ${at("stop", stop)}, ${at("target", target)}`;
}

export const logEvent = ({ timeMs, level, text }: LogLine): NewEvent => ({
  timeMs,
  kind: "log",
  by: "plan",
  level,
  text,
  alert: "plan's log",
});
export const promptEvent = (timeMs: number, by: string, text: string): NewEvent => ({ timeMs, kind: "prompt", by, level: "", text });
export const askEvent = (timeMs: number, line: number, text: string): NewEvent => ({
  ...promptEvent(timeMs, bySource(line), text),
  alert: "prompt",
});
export const stateEvent = (timeMs: number, text: string, by = "watch"): NewEvent => ({ timeMs, kind: "state", by, level: "", text });
export const errorEvent = (timeMs: number, text: string, by = "watch", alert: AlertEvent = "error"): NewEvent => ({
  ...{ timeMs, kind: "error", by, level: "", text, alert },
});

/** What has become of the account while nobody looked. */
export function agreementEvent(before: AccountReport, after: AccountReport, missed: number, timeMs: number): NewEvent {
  const units = (report: AccountReport): string =>
    report.books.map(({ symbol, lots }) => `${symbol} ${lots.reduce((sum, lot) => sum + lot.side * lot.quantity, 0)}`).join(", ");
  const [was, is] = [units(before), units(after)];
  const news = missed === 0 ? "" : `; ${missed} report${missed === 1 ? "" : "s"} came meanwhile`;
  const text =
    was === is ? `the venue's account agrees: ${is}${news}` : `the venue has ${is} where ${was} was known${news}: its word is taken`;
  return stateEvent(timeMs, text);
}
