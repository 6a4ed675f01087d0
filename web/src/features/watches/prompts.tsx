/** Orders that wait for a word: what each would do, how old it is, and what silence does. A key each to accept and to decline. */
import type { WatchPrompt, WatchSummary } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { useCommands } from "../../lib/commands.ts";
import { duration, money, units } from "../../lib/format.ts";
import { Button, Key } from "../../ui/button.tsx";

/** For so long a prompt has to be there before a key answers it. */
const SEEN_MS = 700;

interface Asked {
  readonly watch: WatchSummary;
  readonly prompt: WatchPrompt;
}

function words({ side, quantity, symbol, kind, price, tag, intent }: WatchPrompt): string {
  const many = quantity === null ? "all" : units(quantity);
  const where = kind === "market" ? "at market" : `${kind} at ${price}`;
  return `${side} ${many} ${symbol} ${where}${tag ? ` “${tag}”` : ""}${intent === "exit" ? ", an exit" : ""}`;
}

/** Watches number their orders each for itself. */
const keyOf = ({ watch, prompt }: Asked): string => `${watch.id} ${prompt.orderId}`;

/** @param watches those whose prompts are shown; the first prompt answers to the keys */
export function Prompts({ watches }: { readonly watches: readonly WatchSummary[] }) {
  const answerPrompt = useChange("answerPrompt");
  const { data: venue } = useQuery(queries.venue());
  // The prompt of which a first word to send it late was said.
  const [sure, setSure] = useState("");
  const asked: Asked[] = watches.flatMap((watch) => watch.prompts.map((prompt) => ({ watch, prompt })));
  const nowMs = venue?.nowMs ?? 0;
  const isLate = ({ prompt }: Asked): boolean => nowMs >= prompt.barOverMs;
  const answer = (one: Asked, accept: boolean): void => {
    const { watch, prompt } = one;
    // Case: its bar is over. Accepting takes a second word.
    if (accept && isLate(one) && sure !== keyOf(one)) return setSure(keyOf(one));
    setSure("");
    void answerPrompt.run({ id: watch.id, order: String(prompt.orderId) }, { accept, late: accept && isLate(one) });
  };
  const [first] = asked;
  // A key that was meant for the prompt before is none for one that has just come in its place.
  const shown = useRef({ key: "", sinceMs: 0 });
  const firstKey = first ? keyOf(first) : "";
  if (shown.current.key !== firstKey) shown.current = { key: firstKey, sinceMs: performance.now() };
  const isSeen = (): boolean => performance.now() - shown.current.sinceMs > SEEN_MS;
  useCommands(
    first
      ? [
          { id: "accept prompt", label: `Accept: ${words(first.prompt)}`, keys: "Alt+a", act: () => isSeen() && answer(first, true) },
          { id: "decline prompt", label: `Decline: ${words(first.prompt)}`, keys: "Alt+x", act: () => isSeen() && answer(first, false) },
        ]
      : [],
  );
  if (asked.length === 0) return null;
  return (
    <section aria-label="Waiting for you" className="border-warn border-l-3 bg-warn-wash">
      {asked.map((one, k) => {
        const { watch, prompt } = one;
        const left = Math.max(0, prompt.deadlineMs - nowMs);
        return (
          <div key={keyOf(one)} className="flex flex-wrap items-center gap-x-4 gap-y-1 px-4 py-2">
            <p className="min-w-64 flex-1">
              <strong>{watch.name}</strong> asks: {words(prompt)}
              <span className="block text-[13px] text-soft">
                {prompt.stop ? `stop ${prompt.stop}` : "no stop"}
                {prompt.target ? ` · target ${prompt.target}` : ""}
                {prompt.risk === null ? "" : ` · ${money(prompt.risk)} ${watch.currency} at risk`}
                {prompt.line > 0 ? ` · line ${prompt.line}` : ""} · asked {duration(Math.max(0, nowMs - prompt.sentMs))} ago
              </span>
              <span className="block text-[13px] text-warn">
                {isLate(one) ? "Its bar is over: the price it was meant for may be gone. " : ""}
                Unanswered it lapses in {duration(left)} and is not sent; declined it is not sent either.
              </span>
            </p>
            <Button variant="primary" onClick={() => answer(one, true)}>
              {sure === keyOf(one) ? "Send it late" : "Accept"} {k === 0 ? <Key>Alt A</Key> : null}
            </Button>
            <Button onClick={() => answer(one, false)}>Decline {k === 0 ? <Key>Alt X</Key> : null}</Button>
          </div>
        );
      })}
    </section>
  );
}
