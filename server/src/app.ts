/** Puts the server together: database, services, routes. */
import { existsSync } from "node:fs";
import { rm } from "node:fs/promises";
import { cpus } from "node:os";
import { join } from "node:path";
import { prepareSchemas, REQUEST_SHAPES } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { embeddedExecutor, limits, ProcessPool, type SweepExecutor } from "@plan-tester/runner";
import express from "express";
import type { Logger } from "pino";
import sirv from "sirv";
import { Background } from "./background.ts";
import type { Config } from "./config.ts";
import { Bin } from "./db/bin.ts";
import { Database } from "./db/database.ts";
import { alertHandlers } from "./features/alerts/alert-handlers.ts";
import { AlertRepository } from "./features/alerts/alert-repository.ts";
import { AlertService } from "./features/alerts/alert-service.ts";
import { blendHandlers } from "./features/blends/blend-handlers.ts";
import { BlendRepository } from "./features/blends/blend-repository.ts";
import { BlendRuns } from "./features/blends/blend-runs.ts";
import { bundleHandlers } from "./features/bundles/bundle-handlers.ts";
import { BundleReader } from "./features/bundles/bundle-reader.ts";
import { BundleWriter } from "./features/bundles/bundle-writer.ts";
import { importHandlers } from "./features/imports/import-handlers.ts";
import { ImportService } from "./features/imports/import-service.ts";
import { instrumentListHandlers } from "./features/instrument-lists/list-handlers.ts";
import { InstrumentListRepository } from "./features/instrument-lists/list-repository.ts";
import { Journal } from "./features/journal/journal.ts";
import { journalHandlers } from "./features/journal/journal-handlers.ts";
import { VersionRepository } from "./features/journal/versions.ts";
import { kitHandlers } from "./features/kits/kit-handlers.ts";
import { KitRepository } from "./features/kits/kit-repository.ts";
import { layoutHandlers } from "./features/layouts/layout-handlers.ts";
import { LayoutRepository } from "./features/layouts/layout-repository.ts";
import { BarRepository } from "./features/markets/bar-repository.ts";
import { FactsService } from "./features/markets/facts-service.ts";
import { marketHandlers } from "./features/markets/market-handlers.ts";
import { MarketService } from "./features/markets/market-service.ts";
import { MarketShelf } from "./features/markets/market-shelf.ts";
import { RepairService } from "./features/markets/repair-service.ts";
import { markHandlers } from "./features/marks/mark-handlers.ts";
import { MarkRepository } from "./features/marks/mark-repository.ts";
import { PlanFiles } from "./features/plans/plan-files.ts";
import { planHandlers } from "./features/plans/plan-handlers.ts";
import { PlanRepository } from "./features/plans/plan-repository.ts";
import { PlanService } from "./features/plans/plan-service.ts";
import { VariantRepository } from "./features/plans/variants.ts";
import { ChanceChecks } from "./features/runs/chance-check.ts";
import { QueueRepository } from "./features/runs/queue-repository.ts";
import { RuleChecks } from "./features/runs/rule-checks.ts";
import { RunChecks } from "./features/runs/run-checks.ts";
import { runHandlers } from "./features/runs/run-handlers.ts";
import { RunQueue } from "./features/runs/run-queue.ts";
import { RunRepository } from "./features/runs/run-repository.ts";
import { RunRequests } from "./features/runs/run-requests.ts";
import { RunService } from "./features/runs/run-service.ts";
import { sourceHandlers } from "./features/sources/source-handlers.ts";
import { SourceRepository } from "./features/sources/source-repository.ts";
import { SourceService } from "./features/sources/source-service.ts";
import { storageHandlers } from "./features/storage/storage-handlers.ts";
import { StorageService } from "./features/storage/storage-service.ts";
import { LuckRepository } from "./features/sweeps/luck-repository.ts";
import { LuckService } from "./features/sweeps/luck-service.ts";
import { sweepHandlers } from "./features/sweeps/sweep-handlers.ts";
import { SweepRepository } from "./features/sweeps/sweep-repository.ts";
import { SweepService } from "./features/sweeps/sweep-service.ts";
import { walkForwardHandlers } from "./features/walk-forwards/walk-forward-handlers.ts";
import { WalkForwardRepository } from "./features/walk-forwards/walk-forward-repository.ts";
import { WalkForwardService } from "./features/walk-forwards/walk-forward-service.ts";
import { watchHandlers } from "./features/watches/watch-handlers.ts";
import { WatchRepository } from "./features/watches/watch-repository.ts";
import { WatchService } from "./features/watches/watch-service.ts";
import { healthOf } from "./health.ts";
import { errorHandler } from "./http/errors.ts";
import { EventStream } from "./http/events.ts";
import { localOnly, safeHeaders } from "./http/guard.ts";
import { requestLog } from "./http/request-log.ts";
import { type ReplyCheck, serve } from "./http/serve.ts";
import { Linker } from "./modules/linker.ts";
import { RequestReader } from "./request-reader.ts";
import { DemoWorld } from "./seed/demo.ts";
import { demoHandlers } from "./seed/demo-handlers.ts";
import { WorkThread } from "./work/work-thread.ts";

export interface Application {
  readonly app: express.Express;
  readonly database: Database;
  readonly bars: BarRepository;
  readonly plans: PlanRepository;
  readonly runs: RunService;
  readonly sweeps: SweepService;
  readonly walks: WalkForwardService;
  readonly demo: DemoWorld;
  readonly storage: StorageService;
  readonly background: Background;
  /** Connects to the venue; watches of before go on. */
  startWatching(): WatchService;
  close(): Promise<void>;
}

/** Loaded only when it is asked for: most have no queue. */
async function queueExecutor(url: string): Promise<SweepExecutor> {
  const { QueueExecutor } = await import("./queue/queue-executor.ts");
  return new QueueExecutor(url);
}

/** @param checkReply for tests: asked about every answer. */
export async function makeApplication(config: Config, logger: Logger, checkReply: ReplyCheck | null = null): Promise<Application> {
  // What an import was reading when the last server ended.
  await rm(join(config.dataFolder, "incoming"), { recursive: true, force: true });
  const database = await Database.open(join(config.dataFolder, "plan-tester.sqlite"));
  const events = new EventStream();
  const background = new Background(logger, events);
  const interactive = new ProcessPool(2);
  const sweepPool = new ProcessPool(Math.max(1, cpus().length), true);
  interactive.warm();
  prepareSchemas(REQUEST_SHAPES);
  if (limits().notice) logger.warn(limits().notice);

  const thread = new WorkThread();
  const bars = new BarRepository(database, thread);
  await bars.removeIncomplete();
  const markets = new MarketService(database, bars, thread, background);
  const repairs = new RepairService(database, markets);
  const plans = new PlanRepository(database);
  const runRepository = new RunRepository(database);
  const versions = new VersionRepository(database);
  const journal = new Journal(database, versions);
  const sweepRepository = new SweepRepository(database);
  const walkForwardRepository = new WalkForwardRepository(database);
  const blends = new BlendRepository(database);
  const sourceRepository = new SourceRepository(database);
  const bin = new Bin(database, {
    plan: (id) => plans.delete(id),
    run: (id) => runRepository.delete(id),
    sweep: (id) => sweepRepository.delete(id),
    "walk-forward": (id) => walkForwardRepository.delete(id),
    blend: (id) => blends.remove(id),
    market: (symbol) => bars.removeInstrument(symbol),
    source: (id) => sourceRepository.remove(id),
  });
  const storage = new StorageService({ database, thread, background, bin, sweeps: sweepRepository });
  const runs = new RunService(markets, runRepository, interactive, events, journal, background);
  await runRepository.removeOrphans();
  const linker = new Linker((name) => plans.moduleSource(name), thread);
  const reader = new RequestReader({ linker, markets, journal });
  const planService = new PlanService({ plans, runs: runRepository, pool: interactive, journal, linker, versions, events, bin });
  const variants = new VariantRepository(database);
  const executor = config.queue ? await queueExecutor(config.queue) : embeddedExecutor(sweepPool);
  const sweeps = new SweepService({
    markets,
    sweeps: sweepRepository,
    interactive,
    pool: sweepPool,
    executor,
    events,
    journal,
    thread,
    background,
    bin,
  });
  await sweeps.resumeUnfinished();
  const luck = new LuckService({
    ...{ luck: new LuckRepository(database), executor, events, background },
    sweepOf: (id) => sweeps.get(id),
    taskOf: (request, seed, atMs) => sweeps.surrogateTask(request, seed, atMs),
  });
  await luck.resumeUnfinished();
  const walks = new WalkForwardService({
    markets,
    repository: walkForwardRepository,
    runs,
    interactive,
    executor,
    events,
    journal,
    background,
    bin,
  });
  await walks.resumeUnfinished();
  const queue = new RunQueue(runs, new QueueRepository(database), events, background);
  await queue.resume();
  storage.start();
  const alerts = new AlertService({ repository: new AlertRepository(database), background, events });
  await alerts.open(Date.now());
  let watches: WatchService | null = null;

  const requests = new RunRequests(markets, interactive);
  const kits = new KitRepository(database);
  const demo = new DemoWorld({
    ...{ database, bars, bin, plans, kits, blends, runs, sweeps, walks, markets },
    ...{ sources: sourceRepository, venuePort: config.venuePort, watches: () => watches },
  });
  const files = new PlanFiles(planService, plans, variants, linker);
  const bundleThread = new WorkThread();
  const bundled = { plans, files, versions, journal, kits, markets, bars, runs, requests, thread: bundleThread };
  const app = express();
  app.disable("x-powered-by");
  // Nothing here is asked for twice, and a hash of a long run takes as long as sending it.
  app.disable("etag");
  app.use(requestLog(logger), localOnly, safeHeaders);
  const watching = (): WatchService => {
    if (!watches) throw new PlanTesterError("unavailable", "The server is still starting.");
    return watches;
  };
  const imports = new ImportService({ database, bars, markets, repairs, events, thread, bin });
  const sources = new SourceService({ repository: sourceRepository, imports, markets, background, dataFolder: config.dataFolder });
  const api = serve(
    {
      getHealth: () => healthOf({ database, watches, interactive, sweepPool, queue, background }),
      getEvents: events.handler,
      ...importHandlers(imports, config.dataFolder),
      ...sourceHandlers(sources, sourceRepository, bin),
      ...bundleHandlers(
        new BundleWriter(bundled),
        new BundleReader({ ...bundled, database, pool: interactive, events }),
        config.dataFolder,
      ),
      ...demoHandlers(demo, background),
      ...marketHandlers(
        markets,
        new FactsService(database, bars, markets, thread),
        repairs,
        new MarketShelf(database, bars, markets, repairs),
      ),
      ...planHandlers({ plans: planService, files, variants, linker, thread }),
      ...runHandlers({
        ...{ runs, queue, reader, bin },
        checks: new RunChecks(requests, interactive, events),
        chance: new ChanceChecks({ requests, pool: sweepPool, events, journal }),
        rules: new RuleChecks({ requests, interactive, pool: sweepPool, thread, events, journal, background }),
      }),
      ...instrumentListHandlers(new InstrumentListRepository(database)),
      ...kitHandlers(kits),
      ...layoutHandlers(new LayoutRepository(database)),
      ...markHandlers(new MarkRepository(database)),
      ...blendHandlers(blends, new BlendRuns({ runs, requests, pool: interactive, events, journal, background }), bin),
      ...journalHandlers(journal, versions),
      ...sweepHandlers(sweeps, luck, reader),
      ...walkForwardHandlers(walks, reader),
      ...storageHandlers(storage, bin, () => markets.forget()),
      ...watchHandlers(watching, linker, reader),
      ...alertHandlers(alerts, () => watching().inbox()),
    },
    checkReply,
  );
  api.use(
    (request, response) =>
      void response
        .status(404)
        .json({ error: { code: "not-found", message: `There is nothing at ${request.method} ${request.originalUrl}.`, details: {} } }),
  );
  app.use("/api", api);
  if (existsSync(config.webFolder)) {
    // Files under assets/ have their content in their names and never change; all are there packed as well.
    const page = (path: string): string => (path.startsWith("/assets/") ? "public, max-age=31536000, immutable" : "no-cache");
    app.use(
      sirv(config.webFolder, {
        gzip: true,
        etag: true,
        single: true,
        setHeaders: (response, path) => response.setHeader("Cache-Control", page(path)),
      }),
    );
  }
  app.use(errorHandler(logger));

  return {
    app,
    database,
    bars,
    plans,
    runs,
    sweeps,
    walks,
    demo,
    storage,
    background,
    startWatching() {
      watches = new WatchService({
        ...{ markets, runs, pool: interactive, events, background, venuePort: config.venuePort },
        ...{ alerts, journal },
        sourceOf: async (planId) => {
          const plan = await plans.find(planId);
          return plan && linker.link(plan.source);
        },
        repository: new WatchRepository(database),
      });
      return watches;
    },
    async close() {
      background.close();
      const watched = watches?.close();
      queue.close();
      walks.close();
      await sources.close();
      await luck.close();
      await sweeps.close();
      await watched;
      await alerts.close();
      events.close();
      interactive.close();
      await queue.ended();
      await runs.close();
      await executor.close();
      sweepPool.close();
      await thread.close();
      await bundleThread.close();
      await database.close();
    },
  };
}
