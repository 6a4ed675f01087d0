import { type DailyReturnsMeta, packColumns } from "@plan-tester/contract";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { type HandlersOf, Pieces } from "../../http/serve.ts";
import type { RequestReader } from "../../request-reader.ts";
import { dailyRowsOf } from "./daily-rows.ts";
import type { LuckService } from "./luck-service.ts";
import type { StoredSweep } from "./sweep-repository.ts";
import type { SweepService } from "./sweep-service.ts";

type Names =
  | "listSweeps"
  | "createSweep"
  | "estimateSweep"
  | "getSweep"
  | "getSweepFigures"
  | "getSweepDaily"
  | "stopSweep"
  | "pauseSweep"
  | "resumeSweep"
  | "deleteSweep"
  | "getLuck"
  | "startLuck"
  | "pauseLuck";

/** The points tried, in order, and a row of figures for each; rows that are not reached yet are empty. */
const packFigures = ({ points, figures }: StoredSweep): Uint8Array =>
  packColumns({}, [
    { name: "points", values: Float64Array.from(points) },
    { name: "figures", values: figures },
  ]);

/** Daily returns in-sample, one row for each variant that is done and keeps them. */
function packDaily(stored: StoredSweep): Uint8Array {
  const stretches = stored.detail.request.outOfSample ? 2 : 1;
  const { settings, daily } = dailyRowsOf(stored, SWEEP_FIGURES.length * stretches);
  const meta: DailyReturnsMeta = { settings, dailyStride: stored.dailyStride };
  return packColumns(meta, [{ name: "daily", values: daily }]);
}

export function sweepHandlers(sweeps: SweepService, luck: LuckService, reader: RequestReader): HandlersOf<Names> {
  return {
    listSweeps: () => sweeps.list(),
    createSweep: async ({ body }) => sweeps.start(await reader.read(body)),
    estimateSweep: async ({ body }) => sweeps.estimate(await reader.read(body)),
    getSweep: async ({ params }) => (await sweeps.get(params.id)).detail,
    getSweepFigures: async ({ params }) => new Pieces([packFigures(await sweeps.get(params.id))]),
    getSweepDaily: async ({ params }) => new Pieces([packDaily(await sweeps.get(params.id))]),
    stopSweep: ({ params }) => sweeps.stop(params.id),
    pauseSweep: ({ params }) => sweeps.stop(params.id, "paused"),
    resumeSweep: ({ params }) => sweeps.resume(params.id),
    getLuck: async ({ params }) => {
      await sweeps.get(params.id);
      return luck.get(params.id);
    },
    startLuck: ({ params, body }) => luck.start(params.id, body.markets),
    pauseLuck: ({ params }) => luck.pause(params.id),
    deleteSweep: async ({ params }) => {
      await luck.leave(params.id);
      await sweeps.delete(params.id);
    },
  };
}
