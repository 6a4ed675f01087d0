/** Components on a page of their own, and a hand on them, for tests. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, type ReactNode, useState } from "react";
import { createRoot, type Root } from "react-dom/client";
import { vi } from "vitest";

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

let mounted: { readonly host: HTMLElement; readonly root: Root } | null = null;

async function unmount(): Promise<void> {
  if (!mounted) return;
  const { host, root } = mounted;
  mounted = null;
  await act(async () => root.unmount());
  host.remove();
}

/** Shows a component in place of the last one, with nothing known of any server; it is taken away after the test. */
export async function show(children: ReactNode): Promise<HTMLElement> {
  await unmount();
  const host = document.createElement("div");
  document.body.append(host);
  const root = createRoot(host);
  mounted = { host, root };
  await act(async () => root.render(withAnswers([], children)));
  return host;
}
/** After each test, of whatever file: `testing-setup.ts` sees to it. */
export async function cleanUp(): Promise<void> {
  await unmount();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
}

export interface Held<T> {
  readonly host: HTMLElement;
  /** What the component has last changed it to. */
  readonly value: () => T;
}

/** Shows a component that holds a value which it may change. */
export async function hold<T>(first: T, render: (value: T, onChange: (value: T) => void) => ReactNode): Promise<Held<T>> {
  let last = first;
  function Holder() {
    const [value, setValue] = useState(first);
    last = value;
    return render(value, setValue);
  }
  return { host: await show(<Holder />), value: () => last };
}

/** A screen with room, for lists that draw only the rows in sight. */
export function tall(): void {
  vi.spyOn(HTMLElement.prototype, "clientHeight", "get").mockReturnValue(800);
  vi.spyOn(HTMLElement.prototype, "clientWidth", "get").mockReturnValue(1200);
}

/** A page on which nothing is ever measured, for components that watch their size. */
export function unmeasured(): void {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
}

/** What a server would answer, by query key: components that ask for it find it there. */
export function withAnswers(answers: readonly (readonly [key: readonly unknown[], answer: unknown])[], children: ReactNode): ReactNode {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY, retry: false } } });
  for (const [key, answer] of answers) client.setQueryData(key, answer);
  return <QueryClientProvider client={client}>{children}</QueryClientProvider>;
}

type Control = HTMLInputElement | HTMLSelectElement;

/** The control that a label, or an aria-label, begins with these words. */
export function control(host: HTMLElement, words: string): Control {
  const named = host.querySelector<Control>(`[aria-label="${CSS.escape(words)}"]`);
  if (named) return named;
  const label = [...host.querySelectorAll("label")].find((element) => element.textContent?.trim().startsWith(words));
  if (!label) throw new Error(`There is no control "${words}".`);
  const found = label.htmlFor
    ? host.querySelector<Control>(`#${CSS.escape(label.htmlFor)}`)
    : label.querySelector<Control>("input, select");
  return found!;
}

/** Writes into a field, or chooses in a list. */
export async function type(input: Control, text: string): Promise<void> {
  await act(async () => {
    const prototype = input instanceof HTMLSelectElement ? HTMLSelectElement.prototype : HTMLInputElement.prototype;
    Object.getOwnPropertyDescriptor(prototype, "value")!.set!.call(input, text);
    input.dispatchEvent(new Event(input instanceof HTMLSelectElement ? "change" : "input", { bubbles: true }));
  });
}

export const click = (element: HTMLElement): Promise<void> => act(async () => element.click());

/** Presses the button with these words. */
export async function press(host: HTMLElement, words: string): Promise<void> {
  const button = [...host.querySelectorAll("button")].find(
    (element) => element.textContent?.includes(words) || element.getAttribute("aria-label") === words,
  );
  if (!button) throw new Error(`There is no button "${words}".`);
  await click(button);
}

export const keyOn = (element: HTMLElement, key: string, more: KeyboardEventInit = {}): Promise<void> =>
  act(async () => void element.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...more })));

type Point = Pick<PointerEventInit, "clientX" | "clientY">;

/** Presses the pointer at one place, moves it to another, and lets go. */
export const drag = (element: Element, from: Point, to: Point): Promise<void> =>
  act(async () => {
    const at = (kind: string, point: Point) => element.dispatchEvent(new PointerEvent(kind, { ...point, bubbles: true }));
    at("pointerdown", from);
    at("pointermove", to);
    at("pointerup", to);
  });

/** A hook at work on a page of its own. */
export interface AtWork<Args, Result> {
  readonly now: () => Result;
  /** Draws it again with other arguments. */
  readonly give: (args: Args) => Promise<void>;
}

/** Lets a hook work, with what a server would answer. */
export async function work<Args, Result>(
  use: (args: Args) => Result,
  first: Args,
  answers: Parameters<typeof withAnswers>[0] = [],
  around: (page: ReactNode) => ReactNode = (page) => page,
): Promise<AtWork<Args, Result>> {
  let now!: Result;
  let setArgs!: (args: Args) => void;
  function Page() {
    const [{ args }, set] = useState({ args: first });
    setArgs = (next) => set({ args: next });
    now = use(args);
    return null;
  }
  await show(withAnswers(answers, around(<Page />)));
  return { now: () => now, give: (args) => act(async () => setArgs(args)) };
}

/** Lets time go on, in steps, so that what a timer changes is drawn before time goes on. */
export async function pass(ms: number): Promise<void> {
  for (let gone = 0; gone < ms; gone += 50)
    await act(async () => {
      await vi.advanceTimersByTimeAsync(Math.min(50, ms - gone));
    });
}

export interface Asked {
  /** "POST /sweeps" */
  readonly what: string;
  readonly body: Record<string, unknown>;
}

/**
 * A server for components that ask one: what it was asked, in order. Undone after the test.
 * @param answer what it says, by "POST /sweeps"; an error is an answer with its status. undefined is an answer without a body.
 */
export function serving(answer: (what: string, body: Record<string, unknown>) => unknown): readonly Asked[] {
  const asked: Asked[] = [];
  vi.stubGlobal("fetch", async (url: string, { method = "GET", body }: RequestInit = {}) => {
    const what = `${method} ${url.replace(/^\/api/, "")}`;
    const sent = body ? (JSON.parse(String(body)) as Record<string, unknown>) : {};
    asked.push({ what, body: sent });
    const said = await answer(what, sent);
    if (said instanceof Response) return said;
    return said === undefined ? new Response(null, { status: 204 }) : Response.json(said);
  });
  return asked;
}

/** How a server refuses. */
export const refusal = (status: number, code: string, message: string): Response =>
  Response.json({ error: { code, message, details: {} } }, { status });

/** The server's events, by which a test speaks to the page that listens. */
export function speaking(): (event: object) => Promise<void> {
  const connections = new Set<{ readonly onmessage: ((message: { data: string }) => void) | null }>();
  vi.stubGlobal(
    "EventSource",
    class {
      onmessage: ((message: { data: string }) => void) | null = null;
      constructor() {
        connections.add(this);
      }
      close(): void {
        connections.delete(this);
      }
    },
  );
  return (event) =>
    act(async () => {
      for (const { onmessage } of connections) onmessage?.({ data: JSON.stringify(event) });
    });
}
