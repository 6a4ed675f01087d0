/**
 * The SQLite file. TypeORM has one connection on it, so writes wait in one line: two transactions at once would fall
 * into each other.
 */
import "reflect-metadata";
import { DataSource, type EntityManager } from "typeorm";
import { ENTITIES } from "./entities.ts";
import { EvidenceSchema1764100000000 } from "./evidence-schema.ts";
import { FirstSchema1764000000000 } from "./first-schema.ts";
import { IndependentSchema1764600000000 } from "./independent-schema.ts";
import { PieceSchema1764400000000 } from "./piece-schema.ts";
import { QueueSchema1764500000000 } from "./queue-schema.ts";
import { SearchSchema1764200000000 } from "./search-schema.ts";
import { VariantMarketSchema1764300000000 } from "./variant-market-schema.ts";

interface Pragmas {
  pragma(text: string): unknown;
}

export class Database {
  readonly source: DataSource;
  #line: Promise<unknown> = Promise.resolve();

  private constructor(source: DataSource) {
    this.source = source;
  }

  static async open(file: string): Promise<Database> {
    const source = new DataSource({
      type: "better-sqlite3",
      database: file,
      entities: ENTITIES,
      migrations: [
        FirstSchema1764000000000,
        EvidenceSchema1764100000000,
        SearchSchema1764200000000,
        VariantMarketSchema1764300000000,
        PieceSchema1764400000000,
        QueueSchema1764500000000,
        IndependentSchema1764600000000,
      ],
      migrationsRun: true,
      synchronize: false,
      enableWAL: true,
      prepareDatabase: (connection: Pragmas) => {
        connection.pragma("synchronous = NORMAL");
        connection.pragma("busy_timeout = 5000");
      },
    });
    await source.initialize();
    return new Database(source);
  }

  get read(): EntityManager {
    return this.source.manager;
  }

  /** Runs one transaction after all those asked for before it. */
  write<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    const result = this.#line.then(() => this.source.transaction(work));
    this.#line = result.catch(() => undefined);
    return result;
  }

  async close(): Promise<void> {
    await this.#line;
    await this.source.destroy();
  }
}
