/** Migrations in their order. A new one is a file of its own, named by its day; an old one is never changed. */
import { FirstSchema1764000000000 } from "./2025-11-24-first-schema.ts";
import { EvidenceSchema1764100000000 } from "./2025-11-25-evidence.ts";
import { SearchSchema1764200000000 } from "./2025-11-26-search.ts";
import { VariantMarketSchema1764300000000 } from "./2025-11-28-variant-market.ts";
import { PieceSchema1764400000000 } from "./2025-11-29-pieces.ts";
import { QueueSchema1764500000000 } from "./2025-11-30-queue.ts";
import { IndependentSchema1764600000000 } from "./2025-12-01-independent.ts";
import { ThumbnailSchema1764700000000 } from "./2025-12-02-thumbnail.ts";
import { RevisionSchema1764800000000 } from "./2025-12-03-revision.ts";
import { SweepPieces1764900000000 } from "./2025-12-04-sweep-pieces.ts";
import { BinSchema1765000000000 } from "./2025-12-05-bin.ts";
import { RunHeads1765100000000 } from "./2025-12-06-run-heads.ts";
import { WatchDesk1796000000000 } from "./2026-11-29-watch-desk.ts";
import { Alerts1796100000000 } from "./2026-11-30-alerts.ts";
import { WatchVersions1796200000000 } from "./2026-12-01-watch-versions.ts";
import { EventCause1796300000000 } from "./2026-12-02-event-cause.ts";
import { VenueEpoch1796400000000 } from "./2026-12-03-venue-epoch.ts";
import { Kits1796500000000 } from "./2026-12-04-kits.ts";
import { WatchKit1796600000000 } from "./2026-12-05-watch-kit.ts";
import { Blends1796700000000 } from "./2026-12-06-blends.ts";
import { LuckTests1796800000000 } from "./2026-12-07-luck-tests.ts";
import { FactsVersions1796900000000 } from "./2026-12-08-facts-versions.ts";
import { Repairs1797000000000 } from "./2026-12-09-repairs.ts";
import { ImportMappings1797100000000 } from "./2026-12-10-import-mappings.ts";
import { Marks1797200000000 } from "./2026-12-11-marks.ts";
import { Sources1797300000000 } from "./2026-12-12-sources.ts";
import { InstrumentLists1797400000000 } from "./2026-12-13-instrument-lists.ts";
import { SourcesInTheBin1797500000000 } from "./2026-12-14-sources-in-the-bin.ts";

export const MIGRATIONS = [
  FirstSchema1764000000000,
  EvidenceSchema1764100000000,
  SearchSchema1764200000000,
  VariantMarketSchema1764300000000,
  PieceSchema1764400000000,
  QueueSchema1764500000000,
  IndependentSchema1764600000000,
  ThumbnailSchema1764700000000,
  RevisionSchema1764800000000,
  SweepPieces1764900000000,
  BinSchema1765000000000,
  RunHeads1765100000000,
  WatchDesk1796000000000,
  Alerts1796100000000,
  WatchVersions1796200000000,
  EventCause1796300000000,
  VenueEpoch1796400000000,
  Kits1796500000000,
  WatchKit1796600000000,
  Blends1796700000000,
  LuckTests1796800000000,
  FactsVersions1796900000000,
  Repairs1797000000000,
  ImportMappings1797100000000,
  Marks1797200000000,
  Sources1797300000000,
  InstrumentLists1797400000000,
  SourcesInTheBin1797500000000,
];
