/** Opens the help from anywhere: F1, the palette, or the button of the top bar. Its pages load when it is first asked for. */
import { lazy, Suspense, useState } from "react";
import { useCommands } from "../../lib/commands.ts";
import type { HelpPage } from "./help-panel.tsx";

const HelpPanel = lazy(async () => ({ default: (await import("./help-panel.tsx")).HelpPanel }));

export function Help() {
  const [page, setPage] = useState<HelpPage | null>(null);
  useCommands([
    {
      id: "help",
      label: "Help: first steps, plan language, studies, rules, glossary",
      keys: "F1",
      isFirst: true,
      act: () => setPage("first-steps"),
    },
    { id: "keys", label: "Help: keys that work here", act: () => setPage("keys") },
  ]);
  return (
    <>
      <button type="button" className="text-soft hover:text-ink" onClick={() => setPage("first-steps")}>
        Help
      </button>
      {page ? (
        <Suspense fallback={null}>
          <HelpPanel first={page} onClose={() => setPage(null)} />
        </Suspense>
      ) : null}
    </>
  );
}
