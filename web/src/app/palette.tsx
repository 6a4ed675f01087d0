/** Every frequent act by its name: Ctrl+K. */
import { Command } from "cmdk";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { useAllCommands, useCommands } from "../lib/commands.ts";
import { currentTheme, setTheme } from "../lib/theme.ts";
import { focusAgain } from "../ui/focus-again.ts";
import { useFound } from "./palette-entries.ts";

const PLACES = [
  ["Markets", "/markets"],
  ["Plans", "/plans"],
  ["Runs", "/runs"],
  ["Sweeps", "/sweeps"],
  ["Blends", "/blends"],
  ["Watches", "/watches"],
] as const;

/** All words of the search, in any order; what begins with it comes first. */
export function matchOf(value: string, search: string): number {
  const [sought, text] = [search.toLowerCase().trim(), value.toLowerCase()];
  if (!sought.split(/\s+/).every((word) => text.includes(word))) return 0;
  return text.startsWith(sought) ? 1 : text.includes(` ${sought}`) ? 0.8 : 0.5;
}

export function Palette() {
  const [open, setOpen] = useState(false);
  /** What had focus when it was opened, and gets it again unless the choice led elsewhere. */
  const before = useRef<Element | null>(null);
  useEffect(() => {
    if (!open) focusAgain(before.current);
  }, [open]);
  const toggle = (): void => {
    if (!open) before.current = document.activeElement;
    setOpen(!open);
  };
  const navigate = useNavigate();
  const commands = useAllCommands();
  const found = useFound(open);
  useCommands([
    { id: "palette", label: "Find a command", keys: "Ctrl+k", isFirst: true, act: toggle },
    { id: "theme", label: "Change between paper and night", act: () => setTheme(currentTheme() === "paper" ? "night" : "paper") },
  ]);
  const choose = (act: () => void) => () => {
    setOpen(false);
    act();
  };
  const item = "flex cursor-pointer items-center justify-between rounded px-2 py-1.5 data-[selected=true]:bg-accent-wash";
  const group =
    "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:text-soft";
  return (
    <Command.Dialog
      open={open}
      onOpenChange={setOpen}
      label="Commands"
      filter={matchOf}
      overlayClassName="fixed inset-0 z-40 bg-ink/30"
      contentClassName="fixed top-[12vh] left-1/2 z-50 w-[560px] max-w-[94vw] -translate-x-1/2 rounded-md border border-rule bg-sheet p-2 shadow-(--shadow)"
    >
      <Command.Input
        placeholder="What to do, or which plan, run, market, sweep or watch to open"
        className="w-full border-rule border-b bg-transparent px-2 py-2 outline-none"
      />
      <Command.List className="max-h-[50vh] overflow-auto pt-1">
        <Command.Empty className="p-4 text-soft">No command, plan, run or instrument matches.</Command.Empty>
        <Command.Group heading="Here" className={group}>
          {commands
            .filter(({ id }) => id !== "palette")
            .map(({ id, label, keys, act }) => (
              <Command.Item key={id} value={label} className={item} onSelect={choose(act)}>
                {label}
                {keys ? <kbd className="font-mono text-[12px] text-soft">{keys}</kbd> : null}
              </Command.Item>
            ))}
        </Command.Group>
        {found.map(({ heading, entries }) => (
          <Command.Group key={heading} heading={heading} className={group}>
            {entries.map(({ path, name, about }) => (
              <Command.Item
                key={path}
                value={`${heading} ${name} ${about} ${path}`}
                className={item}
                onSelect={choose(() => navigate(path))}
              >
                <span className="truncate">{name}</span>
                <span className="shrink-0 pl-3 text-soft">{about}</span>
              </Command.Item>
            ))}
          </Command.Group>
        ))}
        <Command.Group heading="Go to" className={group}>
          {PLACES.map(([label, path]) => (
            <Command.Item key={path} value={`go ${label}`} className={item} onSelect={choose(() => navigate(path))}>
              {label}
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command.Dialog>
  );
}
