/** A whole run as a file: as JSON by the published schema, or as a report to read and to print. */
import { evidenceDocument, type Market, type RunEvidence, runOrdersOf } from "@plan-tester/contract";
import { toast } from "sonner";
import { call, messageOf } from "../../data/api.ts";
import { instrumentOf } from "../../data/markets.ts";
import { fileName, saveFile } from "../../lib/files.ts";
import { instrumentsOfRun } from "../run-view/view.ts";
import { reportHtml } from "./report.ts";

const nameOf = (run: RunEvidence): string => run.kept?.name ?? run.title;

export async function saveDocument(run: RunEvidence, markets: readonly Market[]): Promise<void> {
  try {
    const orders = await call("getRunOrders", { id: run.id });
    const { columns } = await call("getRunColumns", { id: run.id });
    const instruments = instrumentsOfRun(run, markets);
    if (instruments[0]?.symbol !== run.settings.symbol)
      throw new Error(`${run.settings.symbol} is no longer in Markets, and a run is saved with its instrument. Import it again first.`);
    const document = evidenceDocument(run, runOrdersOf(orders), columns, instruments);
    saveFile(fileName(nameOf(run), ".json"), `${JSON.stringify(document, null, 1)}\n`, "application/json");
  } catch (error) {
    toast.error(messageOf(error));
  }
}

/** The plan of a run as it is now, with everything it needs. */
export async function savePlan(planId: string, title: string): Promise<void> {
  try {
    const file = await call("getPlanFile", { id: planId });
    saveFile(fileName(title, ".plan.json"), `${JSON.stringify(file, null, 1)}\n`, "application/json");
  } catch (error) {
    toast.error(messageOf(error));
  }
}

export function saveReport(run: RunEvidence, markets: readonly Market[]): void {
  const instrument = instrumentOf(markets, run.settings.symbol);
  saveFile(
    fileName(nameOf(run), ".html"),
    reportHtml(run, instrument?.calendar.zone ?? "UTC", instrument?.decimals ?? 2, instrumentsOfRun(run, markets)),
    "text/html",
  );
}
