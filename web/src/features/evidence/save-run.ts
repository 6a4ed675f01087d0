/** A whole run as a file: as JSON by the published schema, or as a report to read and to print. */
import type { Market, RunEvidence } from "@plan-tester/contract";
import { toast } from "sonner";
import { api, messageOf } from "../../lib/api.ts";
import { saveFile } from "./exports.ts";
import { reportHtml } from "./report.ts";

const named = (run: RunEvidence, ending: string): string =>
  `${(run.kept?.name ?? run.title).replace(/[^\w -]+/g, "").trim() || "run"}.${ending}`;

export async function saveDocument(run: RunEvidence): Promise<void> {
  try {
    const document = await api.get<object>(`/runs/${run.id}/document`);
    saveFile(named(run, "json"), `${JSON.stringify(document, null, 1)}\n`, "application/json");
  } catch (error) {
    toast.error(messageOf(error));
  }
}

/** The plan of a run as it is now, with everything it needs. */
export async function savePlan(planId: string, title: string): Promise<void> {
  try {
    const file = await api.get<object>(`/plans/${planId}/file`);
    saveFile(`${title.replace(/[^\w -]+/g, "").trim() || "plan"}.plan.json`, `${JSON.stringify(file, null, 1)}\n`, "application/json");
  } catch (error) {
    toast.error(messageOf(error));
  }
}

export function saveReport(run: RunEvidence, markets: readonly Market[]): void {
  const instrument = markets.find((market) => market.instrument.symbol === run.settings.symbol)?.instrument;
  saveFile(named(run, "html"), reportHtml(run, instrument?.calendar.zone ?? "UTC", instrument?.decimals ?? 2), "text/html");
}
