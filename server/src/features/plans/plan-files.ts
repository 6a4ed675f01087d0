/** A plan with everything it needs as one file, and back: its text, modules, inputs, settings with exit kit, note and variants. */
import { randomUUID } from "node:crypto";
import { type PlanDetail, type PlanFile, sheetOf } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { moduleName } from "@plan-tester/runner";
import type { Linker } from "../../modules/linker.ts";
import type { PlanRepository } from "./plan-repository.ts";
import type { PlanService } from "./plan-service.ts";
import type { VariantRepository } from "./variants.ts";

export class PlanFiles {
  readonly #service: PlanService;
  readonly #plans: PlanRepository;
  readonly #variants: VariantRepository;
  readonly #linker: Linker;

  constructor(service: PlanService, plans: PlanRepository, variants: VariantRepository, linker: Linker) {
    this.#linker = linker;
    this.#service = service;
    this.#plans = plans;
    this.#variants = variants;
  }

  async write(id: string): Promise<PlanFile> {
    const { title, source, inputs, settings, note } = await this.#service.get(id);
    const linked = await this.#linker.link(source);
    const modules = (await this.#plans.modules()).filter((module) => linked.includes(module.source)).map((module) => module.source);
    const variants = (await this.#variants.list(id)).map((variant) => ({
      name: variant.name,
      inputs: { ...variant.inputs },
      kit: variant.kit,
      market: variant.market,
    }));
    return { kind: "plan-tester plan", version: 1, title, source, inputs: { ...inputs }, settings, note, modules, variants };
  }

  /**
   * Takes a plan in as a new one. Modules that the workspace has stay as they are.
   * @throws PlanTesterError bad-input for a rule sheet that does not fit, or a module whose text differs from the workspace's of the same name.
   */
  async read(file: PlanFile, reservedFrom = ""): Promise<PlanDetail> {
    const { title, source, inputs, settings, note, variants } = file;
    for (const { name, text } of await this.checkModules([file])) await this.#service.create({ title: name, source: text });
    const plan: PlanDetail = {
      id: randomUUID().slice(0, 8),
      title,
      source,
      inputs,
      settings,
      note,
      updatedMs: Date.now(),
      reservedFrom,
      revision: 0,
    };
    await this.#plans.insert(plan);
    for (const variant of variants) await this.#variants.insert(plan.id, variant);
    return plan;
  }

  /** Modules of all these files that the workspace lacks, each once. @throws as `read` */
  async checkModules(files: readonly PlanFile[]): Promise<readonly { readonly name: string; readonly text: string }[]> {
    for (const { source } of files) sheetOf(source);
    const known = new Map((await this.#plans.modules()).map((module) => [module.name, module.source]));
    const missing: { name: string; text: string }[] = [];
    for (const text of files.flatMap(({ modules }) => modules)) {
      const name = moduleName(text);
      if (name === null) throw new PlanTesterError("bad-input", "The plan file brings a module without a name in its first line.", {});
      const own = known.get(name);
      if (own === undefined) {
        missing.push({ name, text });
        known.set(name, text);
      } else if (own.trim() !== text.trim())
        throw new PlanTesterError(
          "conflict",
          `The file brings another module "${name}" than the workspace, or a plan before it, has. Rename one of the two before you open the file.`,
          { module: name },
        );
    }
    return missing;
  }
}
