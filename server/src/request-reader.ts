/** What is asked for, as it is carried out: modules stand behind plans' texts, and moving periods are days. */
import { daysOf, type RunSettings } from "@plan-tester/contract";
import type { Journal } from "./features/journal/journal.ts";
import type { MarketService } from "./features/markets/market-service.ts";
import type { Linker } from "./modules/linker.ts";

interface Asked {
  readonly source: string;
  readonly settings: RunSettings;
  readonly planId?: string;
}

interface Parts {
  readonly linker: Linker;
  readonly markets: Pick<MarketService, "thumbnail">;
  readonly journal: Pick<Journal, "reservedFrom">;
}

export class RequestReader {
  readonly #parts: Parts;

  constructor(parts: Parts) {
    this.#parts = parts;
  }

  /** @throws PlanTesterError bad-plan when a module is not there, not-found for an instrument that is not. */
  async read<Request extends Asked>(request: Request): Promise<Request> {
    const [linked, settings] = await Promise.all([
      this.#parts.linker.linked(request),
      this.#settled(request.settings, request.planId ?? ""),
    ]);
    return { ...linked, settings };
  }

  async #settled({ period, ...settings }: RunSettings, planId: string): Promise<RunSettings> {
    if (!period) return settings;
    const { markets, journal } = this.#parts;
    const [{ dates }, reservedFrom] = await Promise.all([
      markets.thumbnail(settings.symbol),
      planId ? journal.reservedFrom(planId) : Promise.resolve(""),
    ]);
    return { ...settings, ...daysOf(period, settings.from, { firstDate: dates[0]!, lastDate: dates.at(-1)!, reservedFrom }) };
  }
}
