/** The dialogs of the Bench, one at a time. */
import type { Market, PlanDetail, RunEvidence } from "@plan-tester/contract";
import type { InputSpec } from "@plan-tester/core";
import { useNavigate } from "react-router";
import { marketOf } from "../../data/markets.ts";
import type { Draft } from "../drafts/use-draft.ts";
import { SweepDialog } from "../sweeps/sweep-dialog.tsx";
import { VersionsDialog } from "../versions/versions-dialog.tsx";
import { WatchDialog } from "../watches/watch-dialog.tsx";
import { BasketDialog } from "./basket-dialog.tsx";
import { KeepDialog } from "./keep-dialog.tsx";

export type BenchDialog = "keep" | "sweep" | "watch" | "versions" | "basket";

export interface BenchDialogsProps {
  readonly dialog: BenchDialog | null;
  readonly plan: PlanDetail;
  readonly title: string;
  readonly draft: Draft;
  readonly specs: readonly InputSpec[];
  readonly evidence: RunEvidence | null;
  readonly markets: readonly Market[];
  readonly change: (change: Partial<Draft>) => void;
  readonly onClose: () => void;
  readonly onKept: (kept: NonNullable<RunEvidence["kept"]>) => void;
  readonly onBasket: (symbols: readonly string[]) => void;
}

export function BenchDialogs(props: BenchDialogsProps) {
  const { dialog, plan, title, draft, specs, evidence, markets, change, onClose, onKept, onBasket } = props;
  const navigate = useNavigate();
  const shared = { planId: plan.id, draft, onClose };
  switch (dialog) {
    case "keep":
      return evidence ? <KeepDialog run={evidence} onClose={onClose} onKept={onKept} /> : null;
    case "versions":
      return <VersionsDialog {...shared} onRestore={change} />;
    case "basket":
      return <BasketDialog title={title} symbol={draft.settings.symbol} markets={markets} onClose={onClose} onStart={onBasket} />;
    case "sweep":
      return (
        <SweepDialog
          key={specs.map(({ name }) => name).join()}
          {...shared}
          specs={specs}
          market={marketOf(markets, draft.settings.symbol)}
          onStarted={(id) => navigate(`/sweeps/${id}`)}
          onWalking={(id) => navigate(`/walk-forwards/${id}`)}
        />
      );
    case "watch":
      return <WatchDialog {...shared} title={title} onStarted={(id) => navigate(`/watches/${id}`)} />;
    default:
      return null;
  }
}
