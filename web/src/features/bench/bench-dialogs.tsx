/** The dialogs of the Bench, one at a time. */
import { type Market, type PlanDetail, type RunEvidence, settingsOfVariant } from "@plan-tester/contract";
import type { InputSpec } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { marketOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { SaveBundle } from "../bundles/save-bundle.tsx";
import type { Draft } from "../drafts/use-draft.ts";
import { offeredMarkets } from "../markets/shown-markets.ts";
import { SweepDialog } from "../sweeps/sweep-dialog.tsx";
import { VersionsDialog } from "../versions/versions-dialog.tsx";
import { WatchDialog } from "../watches/watch-dialog.tsx";
import type { WatchStart } from "../watches/watch-starts.ts";
import { BasketDialog } from "./basket-dialog.tsx";
import { KeepDialog } from "./keep-dialog.tsx";

export type BenchDialog = "keep" | "sweep" | "watch" | "versions" | "basket" | "bundle";

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
    case "bundle":
      return <SaveBundle title={title} plans={[plan.id]} runs={evidence ? [evidence.id] : []} onClose={onClose} />;
    case "basket":
      return (
        <BasketDialog
          title={title}
          symbol={draft.settings.symbol}
          markets={offeredMarkets(markets, [draft.settings.symbol])}
          onClose={onClose}
          onStart={onBasket}
        />
      );
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
      return <BenchWatch {...shared} title={title} />;
    default:
      return null;
  }
}

interface BenchWatchProps {
  readonly planId: string;
  readonly title: string;
  readonly draft: Draft;
  readonly onClose: () => void;
}

/** The plan as it is here, and its variants. */
function BenchWatch({ planId, title, draft, onClose }: BenchWatchProps) {
  const variants = useQuery(queries.variants(planId));
  if (variants.isPending) return null;
  const { source, inputs, settings } = draft;
  const starts: WatchStart[] = [
    { ...{ planId, source, inputs, settings }, key: "draft", name: title, from: "As it is on the Bench" },
    ...(variants.data ?? []).map((variant) => ({
      ...{ planId, source, inputs: variant.inputs, settings: settingsOfVariant(settings, variant) },
      ...{ key: variant.id, name: `${title}, ${variant.name}`, from: variant.name },
    })),
  ];
  return <WatchDialog title={title} starts={starts} chosenFirst={1} onClose={onClose} />;
}
