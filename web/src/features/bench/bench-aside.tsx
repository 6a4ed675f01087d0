/** What can be done with the run that is shown. */
import type { Market, RunEvidence } from "@plan-tester/contract";
import { useNavigate } from "react-router";
import { zoneOf } from "../../data/markets.ts";
import { duration } from "../../lib/format.ts";
import { useShownZone } from "../../lib/shown-zone.ts";
import { Button } from "../../ui/button.tsx";
import { Menu } from "../../ui/menu.tsx";
import { RunDoubts } from "../evidence/run-doubts.tsx";
import { saveDocument, savePlan, saveReport } from "../evidence/save-run.ts";
import type { BenchDialog } from "./bench-dialogs.tsx";
import type { useLineMarks } from "./use-line-marks.ts";

export interface BenchAsideProps {
  readonly evidence: RunEvidence;
  readonly markets: readonly Market[];
  readonly lines: ReturnType<typeof useLineMarks>;
  readonly onDialog: (dialog: BenchDialog) => void;
  readonly onBackground: () => void;
  readonly onLine: (line: number) => void;
}

export function BenchAside({ evidence, markets, lines, onDialog, onBackground, onLine }: BenchAsideProps) {
  const zone = useShownZone()(zoneOf(markets, evidence.settings.symbol));
  const navigate = useNavigate();
  return (
    <div className="flex items-center [&_button]:px-1.5 [&_button]:text-accent">
      <span
        className="max-w-28 truncate text-[13px] text-soft"
        data-testid="run-state"
        title={`${evidence.kept?.name ?? "Draft run"}, made in ${duration(evidence.elapsedMs)}`}
      >
        {evidence.kept ? evidence.kept.name : "draft run"}
      </span>
      <Button variant="quiet" onClick={() => onDialog("keep")}>
        {evidence.kept ? "Rename" : "Keep"}
      </Button>
      <Button
        variant="quiet"
        aria-pressed={lines.isOn}
        title={lines.isStale ? "The source has changed since this run: run it to see its lines." : "How often each line ran (Ctrl+L)"}
        onClick={lines.toggle}
      >
        {lines.isOn ? "Hide lines" : "Lines"}
      </Button>
      <RunDoubts key={evidence.id} run={evidence} zone={zone} onLine={onLine} />
      <Button variant="quiet" onClick={() => onDialog("sweep")}>
        Sweep
      </Button>
      <Menu
        trigger={<Button variant="quiet">More</Button>}
        items={[
          { label: "Run in the background and keep", keys: "Ctrl+Shift+Enter", act: onBackground },
          { label: "Run on a basket …", act: () => onDialog("basket") },
          { label: "Compare with other runs", act: () => navigate(`/compare?runs=${evidence.id}`) },
          { label: "Versions …", keys: "Alt+V", act: () => onDialog("versions") },
          { label: "Set to watch …", act: () => onDialog("watch") },
          { label: "Save as a bundle …", act: () => onDialog("bundle") },
          { label: "Save plan as a file", act: () => void savePlan(evidence.planId, evidence.title) },
          { label: "Save run as JSON", act: () => void saveDocument(evidence, markets) },
          { label: "Save printable report", act: () => void saveReport(evidence, markets) },
        ]}
      />
    </div>
  );
}
