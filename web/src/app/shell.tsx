/** The top bar, and below it the page. */
import { useQuery } from "@tanstack/react-query";
import { Component, type CSSProperties, type ReactNode, useState } from "react";
import { Link, NavLink, Outlet } from "react-router";
import { Toaster, toast } from "sonner";
import { useFreshness } from "../data/client.ts";
import { useServerEvents } from "../data/events.ts";
import { queries } from "../data/queries.ts";
import { AlertToasts } from "../features/alerts/alert-toasts.tsx";
import { Help } from "../features/help/help.tsx";
import { QueueButton } from "../features/queue/queue-button.tsx";
import { PromptBadge } from "../features/watches/prompt-badge.tsx";
import { useAllCommands, useCommandKeys } from "../lib/commands.ts";
import { duration, number } from "../lib/format.ts";
import { setTheme, useTheme } from "../lib/theme.ts";
import { Key } from "../ui/button.tsx";
import { cx } from "../ui/cx.ts";
import { Failure } from "../ui/states.tsx";
import { Palette } from "./palette.tsx";
import { ZoneSwitch } from "./zone-switch.tsx";

const PLACES = [
  ["/markets", "Markets"],
  ["/plans", "Plans"],
  ["/runs", "Runs"],
  ["/sweeps", "Sweeps"],
  ["/blends", "Blends"],
  ["/watches", "Watches"],
] as const;

/** Messages look as the rest of the page does. */
const TOAST_LOOK = {
  fontFamily: "inherit",
  ...{ "--normal-bg": "var(--sheet)", "--normal-text": "var(--ink)", "--normal-border": "var(--rule)" },
} as CSSProperties;

export function Shell() {
  const theme = useTheme();
  useCommandKeys();
  const palette = useAllCommands().find(({ id }) => id === "palette");
  return (
    <div className="flex h-full flex-col">
      <header className="flex min-h-10 shrink-0 flex-wrap items-center gap-x-4 border-rule border-b px-4 max-[700px]:gap-x-3 max-[700px]:px-3">
        <Link to="/plans" className="flex items-center gap-2 font-bold text-[15px]">
          <svg
            viewBox="0 0 24 24"
            width="20"
            height="20"
            fill="none"
            stroke="currentColor"
            strokeWidth="2"
            strokeLinecap="round"
            strokeLinejoin="round"
            aria-hidden
          >
            <path d="M3 20h18M4 15l5-7 4 4 7-9" />
            <path d="M4 15v2M9 8v9M13 12v5M20 3v14" strokeWidth="1.2" opacity=".55" />
          </svg>
          <span className="max-[700px]:sr-only">Plan Tester</span>
        </Link>
        <nav aria-label="Main" className="flex h-10">
          {PLACES.map(([to, label]) => (
            <NavLink
              key={to}
              to={to}
              className={({ isActive }) =>
                cx(
                  "flex items-center border-b-2 px-2.5 hover:text-ink",
                  isActive ? "border-accent font-semibold text-ink" : "border-transparent text-soft",
                )
              }
            >
              {label}
              {to === "/watches" ? <PromptBadge /> : null}
            </NavLink>
          ))}
        </nav>
        <div className="flex-1" />
        <QueueButton />
        <SweepAtWork />
        <button type="button" className="flex items-center gap-1.5 text-soft hover:text-ink" onClick={() => palette?.act()}>
          <span className="max-[800px]:hidden">Commands</span> <Key>Ctrl K</Key>
        </button>
        <ZoneSwitch />
        <Help />
        <button
          type="button"
          className="text-soft hover:text-ink"
          aria-label={`Theme: ${theme}. Change it.`}
          onClick={() => setTheme(theme === "paper" ? "night" : "paper")}
        >
          {theme === "paper" ? "Paper" : "Night"}
        </button>
      </header>
      <Guard>
        <Outlet />
      </Guard>
      <Palette />
      <Freshness />
      <Troubles />
      <AlertToasts />
      <Toaster theme={theme === "night" ? "dark" : "light"} position="bottom-left" style={TOAST_LOOK} />
    </div>
  );
}

function Freshness() {
  useFreshness();
  return null;
}

/** What the server failed to do by itself is said on every page, and stays until it is read. */
function Troubles() {
  useServerEvents((event) => {
    if (event.type === "trouble") toast.error(event.text, { duration: Number.POSITIVE_INFINITY, closeButton: true });
  });
  return null;
}

/** A running sweep shows itself on every page. */
function SweepAtWork() {
  const sweeps = useQuery(queries.sweeps());
  const [progress, setProgress] = useState<{ id: string; done: number; variants: number; secondsLeft: number } | null>(null);
  useServerEvents((event) => {
    if (event.type === "sweep-progress") setProgress(event);
    if (event.type === "sweep-done") setProgress(null);
  });
  if (!progress) return null;
  const title = sweeps.data?.find(({ id }) => id === progress.id)?.planTitle ?? "";
  return (
    <Link to={`/sweeps/${progress.id}`} className="text-soft hover:text-ink" role="status">
      Sweep <strong className="text-ink">{title}</strong> {number((100 * progress.done) / progress.variants)} % ·{" "}
      {duration(progress.secondsLeft * 1000)} left
    </Link>
  );
}

/** A page that breaks says so, and the rest of the app goes on. */
class Guard extends Component<{ readonly children: ReactNode }, { readonly error: unknown }> {
  override state = { error: null as unknown };

  static getDerivedStateFromError(error: unknown) {
    return { error };
  }

  override render(): ReactNode {
    if (!this.state.error) return this.props.children;
    return (
      <Failure error={this.state.error}>
        <button type="button" className="underline" onClick={() => this.setState({ error: null })}>
          Show the page again
        </button>
      </Failure>
    );
  }
}
